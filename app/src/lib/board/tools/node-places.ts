/** Where the nodes of a path, their handles and its segments are on the screen, which of them is meant, and how they look. */
import type { NodeAt, PathNode } from '@kerbe/core/artwork/nodes';
import type { Subpath } from '@kerbe/core/artwork/path';
import type { Colours } from '$lib/ui/theme';
import type { Point } from '../view';
import { REACH } from './tool';

export type OnScreen = (at: { x: number; y: number }) => Point;
type Nodes = readonly (readonly PathNode[])[];

export const same = (a: NodeAt, b: NodeAt) => a[0] === b[0] && a[1] === b[1];

const distance = ([x, y]: Point, [u, v]: Point) => Math.hypot(u - x, v - y);

/** The node nearest to a point of the screen, if one is within reach. */
export function nodeAt(nodes: Nodes, screen: Point, onScreen: OnScreen): NodeAt | null {
  let best: NodeAt | null = null;
  let least = REACH;
  nodes.forEach((list, s) =>
    list.forEach((node, n) => {
      const d = distance(screen, onScreen(node));
      if (d < least) {
        least = d;
        best = [s, n];
      }
    }),
  );
  return best;
}

/** The handle under a point of the screen, named by its segment. Handles are shown and taken only at picked nodes. */
export function handleAt(nodes: Nodes, picked: readonly NodeAt[], screen: Point, onScreen: OnScreen): { at: NodeAt; handle: 1 | 2 } | null {
  for (const [s, n] of picked) {
    const node = nodes[s]?.[n];
    if (node?.after && distance(screen, onScreen(node.after)) < REACH) return { at: [s, n], handle: 1 };
    if (node?.before && distance(screen, onScreen(node.before)) < REACH)
      return { at: [s, (n + nodes[s].length - 1) % Math.max(1, nodes[s].length)], handle: 2 };
  }
  return null;
}

/** The segment within reach (mm) that is nearest to a point of the board, and where along it. */
export function segmentAt(subpaths: readonly Subpath[], board: Point, reach: number): { at: NodeAt; t: number } | null {
  let best: { at: NodeAt; t: number } | null = null;
  let least = reach;
  subpaths.forEach((subpath, s) => {
    let [x, y] = [subpath.x, subpath.y];
    subpath.segments.forEach((segment, i) => {
      for (let k = 0; k <= 24; k++) {
        const t = k / 24;
        const at: Point =
          segment.kind === 'curve'
            ? [bezier(t, x, segment.x1, segment.x2, segment.x), bezier(t, y, segment.y1, segment.y2, segment.y)]
            : [x + t * (segment.x - x), y + t * (segment.y - y)];
        const d = distance(board, at);
        if (d < least) {
          least = d;
          best = { at: [s, i], t: Math.min(0.96, Math.max(0.04, t)) };
        }
      }
      [x, y] = [segment.x, segment.y];
    });
  });
  return best;
}

function bezier(t: number, a: number, b: number, c: number, d: number): number {
  const u = 1 - t;
  return u * u * u * a + 3 * u * u * t * b + 3 * u * t * t * c + t * t * t * d;
}

/** The node after or before another; the first or last when there is none to go from, null past the ends. */
export function nodeAfter(nodes: Nodes, from: NodeAt | undefined, by: 1 | -1): NodeAt | null {
  const flat = nodes.flatMap((list, s) => list.map((_, n) => [s, n] as NodeAt));
  const now = flat.findIndex((at) => from && same(at, from));
  return flat[now + by] ?? null;
}

/** Paints a node, and its handles while it is picked. */
export function paintNode(context: CanvasRenderingContext2D, node: PathNode, picked: boolean, onScreen: OnScreen, c: Colours): void {
  const [x, y] = onScreen(node);
  context.strokeStyle = c.accent;
  for (const handle of picked ? [node.before, node.after] : []) {
    if (!handle) continue;
    const [hx, hy] = onScreen(handle);
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
  context.lineWidth = 1.4;
  const size = picked ? 5 : 3.5;
  context.fillRect(x - size, y - size, 2 * size, 2 * size);
  context.strokeRect(x - size, y - size, 2 * size, 2 * size);
}
