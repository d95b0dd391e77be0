/** Nodes of one free path: picked, pulled, added on a line by a double press, taken away. */
import { editNodes, nodesOf, type NodeAt, type NodeEdit, type PathNode } from '@kerbe/core/artwork/nodes';
import { formatPath, type Subpath } from '@kerbe/core/artwork/path';
import type { Snapper } from '@kerbe/core/artwork/snap';
import type { Point } from '../view';
import { REACH, snapperWithout, type Bench, type Press, type Tool } from './tool';

const same = (a: NodeAt, b: NodeAt) => a[0] === b[0] && a[1] === b[1];

export function nodesTool(bench: Bench): Tool & { sync(): void } {
  const { editor, view } = bench;
  let subpaths: Subpath[] = [];
  let nodes: PathNode[][] = [];
  let shownFor: unknown = null;
  let drag: { from: Point; handle: { at: NodeAt; handle: 1 | 2 } | null; snapper: Snapper; preview: Subpath[] | null; edit: NodeEdit | null } | null = null;

  /** Fetches the path that is selected, when it is not the one shown. */
  function sync() {
    const item = editor.only;
    if (item?.kind !== 'path' || item === shownFor) return;
    shownFor = item;
    void editor.desk.ask('subpaths', { job: editor.job, thing: item.id }).then(
      (found) => {
        if (editor.only !== item) return;
        subpaths = found;
        nodes = found.map(nodesOf);
        bench.repaintOver();
      },
      // Cancelled with other work: asked again with the next change.
      () => (shownFor = null),
    );
  }
  const near = (a: Point, x: number, y: number) => Math.hypot(view.toScreen(x, y)[0] - a[0], view.toScreen(x, y)[1] - a[1]);

  function nodeAt(screen: Point): NodeAt | null {
    let best: NodeAt | null = null;
    let distance = REACH;
    nodes.forEach((list, s) =>
      list.forEach(({ x, y }, n) => {
        const d = near(screen, x, y);
        if (d < distance) {
          distance = d;
          best = [s, n];
        }
      }),
    );
    return best;
  }
  /** Handles are shown and taken only at picked nodes. */
  function handleAt(screen: Point): { at: NodeAt; handle: 1 | 2 } | null {
    for (const [s, n] of editor.nodes) {
      const node = nodes[s]?.[n];
      if (node?.after && near(screen, node.after.x, node.after.y) < REACH) return { at: [s, n], handle: 1 };
      if (node?.before && near(screen, node.before.x, node.before.y) < REACH)
        return { at: [s, (n + nodes[s].length - 1) % Math.max(1, nodes[s].length)], handle: 2 };
    }
    return null;
  }
  /** The segment nearest to a point, and where along it. */
  function segmentAt(board: Point): { at: NodeAt; t: number } | null {
    let best: { at: NodeAt; t: number } | null = null;
    let distance = (1.5 * REACH) / view.scale;
    subpaths.forEach((subpath, s) => {
      let [x, y] = [subpath.x, subpath.y];
      subpath.segments.forEach((segment, i) => {
        for (let k = 0; k <= 24; k++) {
          const t = k / 24;
          const [px, py] =
            segment.kind === 'curve'
              ? [0, 1].map((axis) => {
                  const p = axis === 0 ? [x, segment.x1, segment.x2, segment.x] : [y, segment.y1, segment.y2, segment.y];
                  const u = 1 - t;
                  return u * u * u * p[0] + 3 * u * u * t * p[1] + 3 * u * t * t * p[2] + t * t * t * p[3];
                })
              : [x + t * (segment.x - x), y + t * (segment.y - y)];
          const d = Math.hypot(px - board[0], py - board[1]);
          if (d < distance) {
            distance = d;
            best = { at: [s, i], t: Math.min(0.96, Math.max(0.04, t)) };
          }
        }
        [x, y] = [segment.x, segment.y];
      });
    });
    return best;
  }

  return {
    cursor: 'crosshair',
    sync,
    down({ screen, board, shift }: Press) {
      const handle = handleAt(screen);
      const at = handle ? null : nodeAt(screen);
      if (!handle && !at) {
        editor.nodes = [];
        bench.repaintOver();
        return;
      }
      if (at) {
        const picked = editor.nodes.some((other) => same(other, at));
        if (shift) editor.nodes = picked ? editor.nodes.filter((other) => !same(other, at)) : [...editor.nodes, at];
        else if (!picked) editor.nodes = [at];
      }
      drag = { from: board, handle, snapper: snapperWithout(bench, editor.selection), preview: null, edit: null };
      bench.repaintOver();
    },
    move({ board, alt }: Press) {
      if (!drag) return;
      const to = editor.snapping && !alt ? drag.snapper.snap(board[0], board[1], REACH / view.scale) : { x: board[0], y: board[1] };
      drag.edit = drag.handle
        ? { do: 'handle', ...drag.handle, x: to.x, y: to.y }
        : { do: 'move', nodes: [...editor.nodes], dx: to.x - drag.from[0], dy: to.y - drag.from[1] };
      try {
        drag.preview = editNodes(subpaths, drag.edit);
      } catch {
        drag.preview = null;
      }
      bench.repaintOver();
    },
    up() {
      const done = drag;
      drag = null;
      if (done?.edit && done.preview) {
        const moved = done.edit.do !== 'move' || Math.hypot(done.edit.dx, done.edit.dy) * view.scale > 1;
        if (moved) {
          // The picked nodes stay picked: their places in the path do not change.
          const keep = editor.nodes;
          subpaths = done.preview;
          nodes = subpaths.map(nodesOf);
          void editor.editNodes(done.edit.do === 'move' ? 'Move a node' : 'Bend', done.edit).then(() => (editor.nodes = keep));
        }
      }
      bench.repaintOver();
    },
    double({ board }: Press) {
      const on = segmentAt(board);
      if (on) void editor.editNodes('Add a node', { do: 'add', ...on });
    },
    key(event: KeyboardEvent) {
      const picked = [...editor.nodes];
      if ((event.key === 'Delete' || event.key === 'Backspace') && picked.length) {
        void editor.editNodes(picked.length > 1 ? `Delete ${picked.length} nodes` : 'Delete a node', { do: 'delete', nodes: picked });
        editor.nodes = [];
        return true;
      }
      const steps: Record<string, Point> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] };
      const step = steps[event.key];
      if (step && picked.length) {
        const by = (event.shiftKey ? 1 : 0.1) * (editor.job.units === 'in' ? 25.4 / 16 : 1);
        void editor.editNodes('Move a node', { do: 'move', nodes: picked, dx: step[0] * by, dy: step[1] * by }).then(() => (editor.nodes = picked));
        return true;
      }
      if (event.key === 'Tab' && nodes.length && !event.ctrlKey && !event.altKey) {
        const flat = nodes.flatMap((list, s) => list.map((_, n) => [s, n] as NodeAt));
        const now = flat.findIndex((at) => picked[0] && same(at, picked[0]));
        // Past the last node the key goes on to the next control, as everywhere.
        const next = now + (event.shiftKey ? -1 : 1);
        if (next < 0 || next >= flat.length) return false;
        editor.nodes = [flat[next]];
        bench.repaintOver();
        return true;
      }
      if (event.key === 'Escape') {
        editor.tool = 'select';
        return true;
      }
      return false;
    },
    paint(context) {
      const c = bench.colours();
      const list = drag?.preview ? drag.preview.map(nodesOf) : nodes;
      if (drag?.preview) {
        context.save();
        const [x, y] = view.toScreen(0, 0);
        context.translate(x, y);
        context.scale(view.scale, -view.scale);
        context.lineWidth = 2 / view.scale;
        context.strokeStyle = c.accent;
        context.stroke(new Path2D(formatPath(drag.preview)));
        context.restore();
      }
      const { minX, maxX, minY, maxY } = view.visible;
      list.forEach((row, s) =>
        row.forEach((node, n) => {
          if (node.x < minX || node.x > maxX || node.y < minY || node.y > maxY) return;
          const [x, y] = view.toScreen(node.x, node.y);
          const picked = editor.nodes.some((at) => same(at, [s, n]));
          if (picked)
            for (const handle of [node.before, node.after]) {
              if (!handle) continue;
              const [hx, hy] = view.toScreen(handle.x, handle.y);
              context.strokeStyle = c.accent;
              context.lineWidth = 1;
              context.beginPath();
              context.moveTo(x, y);
              context.lineTo(hx, hy);
              context.stroke();
              context.beginPath();
              context.arc(hx, hy, 4, 0, 2 * Math.PI);
              context.fillStyle = c.sheet;
              context.fill();
              context.stroke();
            }
          context.fillStyle = picked ? c.accent : c.sheet;
          context.strokeStyle = c.accent;
          context.lineWidth = 1.4;
          const size = picked ? 5 : 3.5;
          context.fillRect(x - size, y - size, 2 * size, 2 * size);
          context.strokeRect(x - size, y - size, 2 * size, 2 * size);
        }),
      );
    },
    leave() {
      drag = null;
      shownFor = null;
      nodes = [];
      subpaths = [];
    },
  };
}
