/** The handles around what is selected: they scale it and turn it. */
import * as Konva from '../konva';
import type { Matrix } from '@kerbe/core/artwork/path';
import type { Point } from '../view';
import type { Bench } from './tool';
import { COMMON } from '$lib/labels/common';
import { DRAWING } from '$lib/labels/drawing';

export function selectionHandles(bench: Bench) {
  const { editor, view } = bench;
  /** Stands for what is selected while its handles are pulled. */
  const proxy = new Konva.Rect({ visible: false, draggable: false, listening: false });
  const handles = new Konva.Transformer({
    nodes: [],
    rotateEnabled: true,
    keepRatio: true,
    rotationSnaps: [0, 45, 90, 135, 180, 225, 270, 315],
    rotationSnapTolerance: 4,
    anchorSize: 11,
    flipEnabled: false,
    ignoreStroke: true,
    borderDash: [3, 3],
  });
  view.over.add(proxy, handles);
  let before = { x: 0, y: 0, width: 0, height: 0 };

  /** Puts them around what is selected now, if it can be changed. */
  function sync() {
    const box = editor.hand.tool === 'select' ? editor.selectionBox() : null;
    const free = [...editor.selection].some((id) => !editor.isLocked(id));
    if (!box || !free) {
      handles.nodes([]);
      return;
    }
    const [x0, y0] = view.toScreen(box.minX, box.maxY);
    const [x1, y1] = view.toScreen(box.maxX, box.minY);
    before = { x: x0, y: y0, width: Math.max(1, x1 - x0), height: Math.max(1, y1 - y0) };
    proxy.setAttrs({ ...before, scaleX: 1, scaleY: 1, rotation: 0, visible: true });
    const c = bench.colours();
    handles.setAttrs({ borderStroke: c.accent, anchorStroke: c.accent, anchorFill: c.sheet, rotateAnchorOffset: 26 });
    handles.nodes([proxy]);
  }
  /** From the proxy on the screen to a matrix on the board. */
  function matrix(): Matrix {
    const m = proxy.getTransform().getMatrix();
    const s = view.scale;
    const [ox, oy] = [view.base.x(), view.base.y()];
    // Screen = proxy(screen point of before - before's corner); board and screen differ by scale and a turned Y.
    const onScreen = (bx: number, by: number): Point => {
      const [u, v] = [ox + bx * s - before.x, oy - by * s - before.y];
      return [m[0] * u + m[2] * v + m[4], m[1] * u + m[3] * v + m[5]];
    };
    const back = ([x, y]: Point): Point => [(x - ox) / s, (oy - y) / s];
    const [e, f] = back(onScreen(0, 0));
    const [ax, ay] = back(onScreen(1, 0));
    const [cx, cy] = back(onScreen(0, 1));
    return [ax - e, ay - f, cx - e, cy - f, e, f];
  }
  handles.on('transform', () => bench.lift(editor.selection, matrix()));
  handles.on('transformend', () => {
    const m = matrix();
    bench.lift(null);
    const { ids } = editor;
    const turn = (Math.atan2(m[1], m[0]) * 180) / Math.PI;
    if (Math.abs(turn) > 0.01) {
      // The point that stays: the middle of what was selected.
      const box = editor.selectionBox();
      void editor.edit(COMMON.turn, {
        do: 'turn',
        ids,
        by: Math.round(turn * 100) / 100,
        about: box ? [(box.minX + box.maxX) / 2, (box.minY + box.maxY) / 2] : undefined,
      });
    } else if (Math.abs(m[0] - 1) > 1e-4 || Math.abs(m[3] - 1) > 1e-4) {
      const about: [number, number] = [Math.abs(m[0] - 1) < 1e-6 ? 0 : m[4] / (1 - m[0]), Math.abs(m[3] - 1) < 1e-6 ? 0 : m[5] / (1 - m[3])];
      const even = Math.abs(m[0] - m[3]) < 1e-3 * m[0];
      void editor.edit(DRAWING.scale, { do: 'scale', ids, x: m[0], y: even ? m[0] : m[3], about });
    }
    sync();
  });

  return {
    sync,
    hide: () => void handles.nodes([]),
    pulled: () => handles.isTransforming(),
    destroy() {
      handles.destroy();
      proxy.destroy();
    },
  };
}
