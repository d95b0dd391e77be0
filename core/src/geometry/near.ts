/** Contours that lie near each other: where they come nearest, and the fewest links that hold them together. */
import type { Contour } from './contour.ts';
import { emptyBox, growBox } from './contour.ts';

/** A place on a contour: so far along its edge from corner `edge` to the next, 0 to 1. */
export interface OnContour {
  edge: number;
  along: number;
  x: number;
  y: number;
}
export interface NearLink {
  /** Contours by their place in the list, and where on each the link stands. */
  from: number;
  to: number;
  at: [OnContour, OnContour];
  distance: number;
}

/**
 * Links of at most `gap` between contours that do not touch, as few as hold together what can be held (a minimum spanning forest).
 * Two contours that do not cross come nearest at a corner of one of them, so corners against edges is exact.
 * @param gap mm
 * @returns nearest first
 */
export function linksWithin(contours: readonly Contour[], gap: number): NearLink[] {
  const boxes = contours.map(({ xy }) => growBox(emptyBox(), xy));
  const links: NearLink[] = [];
  for (let a = 0; a < contours.length; a++)
    for (let b = a + 1; b < contours.length; b++) {
      const [p, q] = [boxes[a], boxes[b]];
      if (q.minX - p.maxX > gap || p.minX - q.maxX > gap || q.minY - p.maxY > gap || p.minY - q.maxY > gap) continue;
      const link = nearest(contours[a].xy, contours[b].xy);
      if (link.distance <= gap && link.distance > 1e-9) links.push({ from: a, to: b, ...link });
    }
  links.sort((one, other) => one.distance - other.distance);
  const root = contours.map((_, k) => k);
  const rootOf = (k: number): number => (root[k] === k ? k : (root[k] = rootOf(root[k])));
  return links.filter(({ from, to }) => {
    const [a, b] = [rootOf(from), rootOf(to)];
    root[a] = b;
    return a !== b;
  });
}

/** Distances that are the same but for rounding, mm. */
const SAME = 1e-9;

/** Where two contours come nearest. Where edges lie side by side, in the middle of where they do. */
function nearest(p: ArrayLike<number>, q: ArrayLike<number>): Pick<NearLink, 'at' | 'distance'> {
  const [fromP, fromQ] = [cornersToEdges(p, q), cornersToEdges(q, p)];
  const distance = Math.min(fromP.distance, fromQ.distance);
  const pairs = [
    ...(fromP.distance <= distance + SAME ? fromP.pairs : []),
    ...(fromQ.distance <= distance + SAME ? fromQ.pairs.map(([corner, edge]): [OnContour, OnContour] => [edge, corner]) : []),
  ];
  const middle = ([0, 1] as const).map((side) => {
    const [x, y] = [pairs.reduce((sum, pair) => sum + pair[side].x, 0) / pairs.length, pairs.reduce((sum, pair) => sum + pair[side].y, 0) / pairs.length];
    return onContour(side === 0 ? p : q, x, y);
  });
  const [a, b] = middle;
  const good = a.distance < SAME && b.distance < SAME && Math.hypot(a.on.x - b.on.x, a.on.y - b.on.y) < distance + SAME;
  return { at: good ? [a.on, b.on] : pairs[0], distance };
}

/** The place of a contour nearest to a point. */
function onContour(q: ArrayLike<number>, x: number, y: number): { on: OnContour; distance: number } {
  let best = { j: 0, t: 0, d: Infinity };
  for (let j = 0; j < q.length; j += 2) {
    const k = (j + 2) % q.length;
    const [ex, ey] = [q[k] - q[j], q[k + 1] - q[j + 1]];
    const length = ex * ex + ey * ey;
    const t = length > 0 ? Math.min(1, Math.max(0, ((x - q[j]) * ex + (y - q[j + 1]) * ey) / length)) : 0;
    const d = (x - q[j] - t * ex) ** 2 + (y - q[j + 1] - t * ey) ** 2;
    if (d < best.d) best = { j, t, d };
  }
  const { j, t, d } = best;
  const k = (j + 2) % q.length;
  const place = t < 1 ? { edge: j / 2, along: t } : { edge: k / 2, along: 0 };
  return { on: { ...place, x: q[j] + t * (q[k] - q[j]), y: q[j + 1] + t * (q[k + 1] - q[j + 1]) }, distance: Math.sqrt(d) };
}

/** The corners of one contour that come nearest to another, each with the place it comes near to. */
function cornersToEdges(p: ArrayLike<number>, q: ArrayLike<number>): { pairs: [corner: OnContour, edge: OnContour][]; distance: number } {
  let distance = Infinity;
  let pairs: [OnContour, OnContour][] = [];
  for (let i = 0; i < p.length; i += 2) {
    const near = onContour(q, p[i], p[i + 1]);
    if (near.distance > distance + SAME) continue;
    if (near.distance < distance - SAME) pairs = [];
    distance = Math.min(distance, near.distance);
    pairs.push([{ edge: i / 2, along: 0, x: p[i], y: p[i + 1] }, near.on]);
  }
  return { pairs, distance };
}

/**
 * Closed walks round contours that links hold together: once round each contour, and there and back over each link,
 * so that a bit follows all of them without a lift. Contours no link holds are walks of their own, as they are.
 * @returns x y of each walk, first point not repeated at the end
 */
export function walksOver(contours: readonly Contour[], links: readonly NearLink[]): number[][] {
  const exits = contours.map((): { here: OnContour; there: OnContour; next: number }[] => []);
  for (const { from, to, at } of links) {
    exits[from].push({ here: at[0], there: at[1], next: to });
    exits[to].push({ here: at[1], there: at[0], next: from });
  }
  const seen = new Set<number>();
  const round = (k: number, start: OnContour | null): number[] => {
    seen.add(k);
    const { xy } = contours[k];
    const n = xy.length / 2;
    const before = start ?? { edge: 0, along: 0, x: xy[0], y: xy[1] };
    /** How far round from the start a place is, in edges. */
    const far = ({ edge, along }: OnContour) => (edge + along - before.edge - before.along + n) % n;
    const leaves = exits[k].filter(({ next }) => !seen.has(next)).sort((a, b) => far(a.here) - far(b.here));
    const points = [before.x, before.y];
    const leave = ({ here, there, next }: (typeof leaves)[number]) => {
      // Another way round may have been there already.
      if (!seen.has(next)) points.push(here.x, here.y, ...round(next, there), here.x, here.y);
    };
    let taken = 0;
    for (let step = 1; step <= n; step++) {
      const corner = (before.edge + step) % n;
      const at = step - before.along;
      while (taken < leaves.length && far(leaves[taken].here) < at) leave(leaves[taken++]);
      // The corner it began at is where it comes back to.
      if (step < n || before.along > 0) points.push(xy[2 * corner], xy[2 * corner + 1]);
    }
    // On the edge it began on, before the place where it began.
    while (taken < leaves.length) leave(leaves[taken++]);
    // A detour comes back to where it left for it; the whole walk closes by itself.
    if (start) points.push(before.x, before.y);
    return points;
  };
  return contours.flatMap((_, k) => (seen.has(k) ? [] : [round(k, null)]));
}
