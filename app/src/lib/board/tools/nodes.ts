/** Nodes of one free path: picked, pulled, added on a line by a double press, taken away. */
import { editNodes, nodesOf, type NodeAt, type NodeEdit, type PathNode } from '@kerbe/core/artwork/nodes';
import { formatPath, type Subpath } from '@kerbe/core/artwork/path';
import type { Snapper } from '@kerbe/core/artwork/snap';
import type { Point } from '../view';
import { handleAt, nodeAfter, nodeAt, paintNode, same, segmentAt, type OnScreen } from './node-places';
import { REACH, snapperWithout, type Bench, type Press, type Tool } from './tool';

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
  const onScreen: OnScreen = (at) => view.toScreen(at.x, at.y);

  return {
    cursor: 'crosshair',
    sync,
    down({ screen, board, shift }: Press) {
      const handle = handleAt(nodes, editor.nodes, screen, onScreen);
      const at = handle ? null : nodeAt(nodes, screen, onScreen);
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
      const to = editor.hand.snapping && !alt ? drag.snapper.snap(board[0], board[1], REACH / view.scale) : { x: board[0], y: board[1] };
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
      const on = segmentAt(subpaths, board, (1.5 * REACH) / view.scale);
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
        const next = nodeAfter(nodes, picked[0], event.shiftKey ? -1 : 1);
        // Past the last node the key goes on to the next control, as everywhere.
        if (!next) return false;
        editor.nodes = [next];
        bench.repaintOver();
        return true;
      }
      if (event.key === 'Escape') {
        editor.hand.tool = 'select';
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
          paintNode(
            context,
            node,
            editor.nodes.some((at) => same(at, [s, n])),
            onScreen,
            c,
          );
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
