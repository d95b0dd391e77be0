/** Nodes of a path: the points where its segments meet, moved, added, taken away, smoothed, cut and joined. */
import { withClosingLine } from './corners.ts';
import { arcByMiddle } from '../geometry/index.ts';
import { reversedPath, type Segment, type Subpath } from './path.ts';

/** Where a node is: which subpath, and which node of it; node 0 is where it starts. */
export type NodeAt = readonly [subpath: number, node: number];

export type NodeEdit =
  | { do: 'move'; nodes: NodeAt[]; dx: number; dy: number }
  /** A handle of a curve: 1 leaves the node before the segment, 2 arrives at its end. */
  | { do: 'handle'; at: NodeAt; handle: 1 | 2; x: number; y: number }
  | { do: 'add'; at: NodeAt; t: number }
  | { do: 'delete'; nodes: NodeAt[] }
  | { do: 'smooth' | 'corner'; nodes: NodeAt[] }
  | { do: 'cut'; at: NodeAt }
  | { do: 'join'; from: NodeAt; to: NodeAt };

export interface PathNode {
  x: number;
  y: number;
  /** Control points on either side, where the segments there are curves. */
  before?: { x: number; y: number };
  after?: { x: number; y: number };
}

/** The nodes of a subpath in order. A closed one has as many as segments, an open one one more. */
export function nodesOf(subpath: Subpath): PathNode[] {
  const segments = withClosingLine(subpath);
  const n = segments.length;
  const nodes: PathNode[] = [{ x: subpath.x, y: subpath.y }, ...segments.map(({ x, y }) => ({ x, y }))];
  segments.forEach((s, i) => {
    if (s.kind !== 'curve') return;
    nodes[i].after = { x: s.x1, y: s.y1 };
    nodes[i + 1].before = { x: s.x2, y: s.y2 };
  });
  if (subpath.closed) {
    nodes[0].before = nodes[n].before;
    nodes.pop();
  }
  return nodes;
}

/**
 * Carries out a node edit. Arcs that lose an end become curves, exact to a few hundred-thousandths
 * of their radius.
 *
 * @throws a sentence when it cannot be done
 */
export function editNodes(subpathsIn: readonly Subpath[], edit: NodeEdit): Subpath[] {
  const subpaths = subpathsIn.map((s) => ({ ...s, segments: withClosingLine(s).map((g) => ({ ...g })) }));
  switch (edit.do) {
    case 'move': {
      const moved = new Set(edit.nodes.map(([s, n]) => `${s} ${n}`));
      for (const [index, subpath] of subpaths.entries()) if (edit.nodes.some(([s]) => s === index)) moveNodes(subpath, index, moved, edit.dx, edit.dy);
      return subpaths;
    }
    case 'handle': {
      const s = subpaths[edit.at[0]]?.segments[edit.at[1]];
      if (s?.kind !== 'curve') throw new Error('There is no curve with such a handle.');
      if (edit.handle === 1) [s.x1, s.y1] = [edit.x, edit.y];
      else [s.x2, s.y2] = [edit.x, edit.y];
      return subpaths;
    }
    case 'add': {
      const subpath = subpaths[edit.at[0]];
      const i = edit.at[1];
      const s = subpath?.segments[i];
      if (!s) throw new Error('There is no line there to put a node on.');
      const from = i === 0 ? subpath : subpath.segments[i - 1];
      subpath.segments.splice(i, 1, ...splitSegment(from.x, from.y, s, Math.min(0.999, Math.max(0.001, edit.t))));
      return subpaths;
    }
    case 'delete': {
      const out: Subpath[] = [];
      subpaths.forEach((subpath, index) => {
        const gone = new Set(edit.nodes.filter(([s]) => s === index).map(([, n]) => n));
        const kept = gone.size ? without(subpath, gone) : subpath;
        if (kept) out.push(kept);
      });
      return out;
    }
    case 'smooth':
    case 'corner':
      for (const [s, n] of edit.nodes) if (subpaths[s]) smoothNode(subpaths[s], n, edit.do === 'smooth');
      return subpaths;
    case 'cut': {
      const [s, n] = edit.at;
      const subpath = subpaths[s];
      if (!subpath) throw new Error('There is no node there.');
      if (subpath.closed) {
        // Opened at the node: the line begins and ends there.
        const k = n % subpath.segments.length;
        const start = k === 0 ? { x: subpath.x, y: subpath.y } : subpath.segments[k - 1];
        subpaths[s] = { x: start.x, y: start.y, closed: false, segments: [...subpath.segments.slice(k), ...subpath.segments.slice(0, k)] };
        return subpaths;
      }
      if (n <= 0 || n >= subpath.segments.length) throw new Error('An end of a line is cut already.');
      const at = subpath.segments[n - 1];
      subpaths.splice(s, 1, { ...subpath, segments: subpath.segments.slice(0, n) }, { x: at.x, y: at.y, closed: false, segments: subpath.segments.slice(n) });
      return subpaths;
    }
    case 'join':
      return joinEnds(subpaths, edit.from, edit.to);
  }
}

function moveNodes(subpath: Subpath, index: number, moved: Set<string>, dx: number, dy: number): void {
  const n = subpath.segments.length;
  const isMoved = (node: number) => moved.has(`${index} ${subpath.closed ? node % n : node}`);
  const points = [{ x: subpath.x, y: subpath.y }, ...subpath.segments.map(({ x, y }) => ({ x, y }))];
  subpath.segments = subpath.segments.flatMap((s, i): Segment[] => {
    const [a, b] = [isMoved(i), isMoved(i + 1)];
    if (!a && !b) return [s];
    if (s.kind === 'arc' && a && b) return [{ ...s, x: s.x + dx, y: s.y + dy }];
    const pieces = s.kind === 'arc' ? arcAsCurves(points[i].x, points[i].y, s) : [s];
    return pieces.map((p, k) => {
      const [head, tail] = [a && k === 0, b && k === pieces.length - 1];
      const q = { ...p };
      if (q.kind === 'curve' && head) [q.x1, q.y1] = [q.x1 + dx, q.y1 + dy];
      if (q.kind === 'curve' && tail) [q.x2, q.y2] = [q.x2 + dx, q.y2 + dy];
      if (tail) [q.x, q.y] = [q.x + dx, q.y + dy];
      return q;
    });
  });
  if (isMoved(0)) [subpath.x, subpath.y] = [subpath.x + dx, subpath.y + dy];
}

/** An arc as cubic curves of at most a quarter turn each: control points 4/3·tan(θ/4) along the tangents. */
export function arcAsCurves(x0: number, y0: number, s: Extract<Segment, { kind: 'arc' }>): Extract<Segment, { kind: 'curve' | 'line' }>[] {
  const arc = arcByMiddle(x0, y0, s.rx, s.ry, (s.turn * Math.PI) / 180, s.large, s.sweep, s.x, s.y);
  if (!arc) return [{ kind: 'line', x: s.x, y: s.y }];
  const parts = Math.max(1, Math.ceil(Math.abs(arc.turn) / (Math.PI / 2) - 1e-9));
  const step = arc.turn / parts;
  const k = (4 / 3) * Math.tan(step / 4);
  const [cos, sin] = [Math.cos(arc.phi), Math.sin(arc.phi)];
  const at = (u: number, v: number): [number, number] => [arc.cx + cos * arc.rx * u - sin * arc.ry * v, arc.cy + sin * arc.rx * u + cos * arc.ry * v];
  return Array.from({ length: parts }, (_, i) => {
    const [a, b] = [arc.start + i * step, arc.start + (i + 1) * step];
    const [x1, y1] = at(Math.cos(a) - k * Math.sin(a), Math.sin(a) + k * Math.cos(a));
    const [x2, y2] = at(Math.cos(b) + k * Math.sin(b), Math.sin(b) - k * Math.cos(b));
    const [x, y] = i === parts - 1 ? [s.x, s.y] : at(Math.cos(b), Math.sin(b));
    return { kind: 'curve', x1, y1, x2, y2, x, y };
  });
}

/** A segment in two at a fraction of its parameter (curves by de Casteljau). */
export function splitSegment(x0: number, y0: number, s: Segment, t: number): Segment[] {
  if (s.kind === 'line') return [{ kind: 'line', x: x0 + (s.x - x0) * t, y: y0 + (s.y - y0) * t }, s];
  if (s.kind === 'arc') {
    const arc = arcByMiddle(x0, y0, s.rx, s.ry, (s.turn * Math.PI) / 180, s.large, s.sweep, s.x, s.y);
    if (!arc) return splitSegment(x0, y0, { kind: 'line', x: s.x, y: s.y }, t);
    const a = arc.start + arc.turn * t;
    const [cos, sin] = [Math.cos(arc.phi), Math.sin(arc.phi)];
    const x = arc.cx + cos * arc.rx * Math.cos(a) - sin * arc.ry * Math.sin(a);
    const y = arc.cy + sin * arc.rx * Math.cos(a) + cos * arc.ry * Math.sin(a);
    const part = (share: number, px: number, py: number): Segment => ({
      ...s,
      rx: arc.rx,
      ry: arc.ry,
      large: Math.abs(arc.turn) * share > Math.PI,
      x: px,
      y: py,
    });
    return [part(t, x, y), part(1 - t, s.x, s.y)];
  }
  const mix = (a: number, b: number) => a + (b - a) * t;
  const [ax, ay, bx, by, cx, cy] = [mix(x0, s.x1), mix(y0, s.y1), mix(s.x1, s.x2), mix(s.y1, s.y2), mix(s.x2, s.x), mix(s.y2, s.y)];
  const [dx, dy, ex, ey] = [mix(ax, bx), mix(ay, by), mix(bx, cx), mix(by, cy)];
  return [
    { kind: 'curve', x1: ax, y1: ay, x2: dx, y2: dy, x: mix(dx, ex), y: mix(dy, ey) },
    { kind: 'curve', x1: ex, y1: ey, x2: cx, y2: cy, x: s.x, y: s.y },
  ];
}

/** The subpath without some nodes; null when too little is left of it. */
function without(subpath: Subpath, gone: Set<number>): Subpath | null {
  const n = subpath.segments.length;
  const nodes = subpath.closed ? n : n + 1;
  const kept: number[] = [];
  for (let i = 0; i < nodes; i++) if (!gone.has(i)) kept.push(i);
  if (kept.length < 2) return null;
  const point = (i: number) => (i === 0 ? { x: subpath.x, y: subpath.y } : subpath.segments[i - 1]);
  const first = point(kept[0]);
  const segments: Segment[] = [];
  for (let k = 0; k < (subpath.closed ? kept.length : kept.length - 1); k++) {
    const a = kept[k];
    const b = kept[(k + 1) % kept.length];
    const span = (b - a + nodes) % nodes || nodes;
    const [head, tail] = [subpath.segments[a % n], subpath.segments[(a + span - 1) % n]];
    const to = point(b);
    if (span === 1) segments.push({ ...head, x: to.x, y: to.y });
    // Across a node that went, the outer handles of both curves stay, reaching as far as both did.
    else if (head.kind === 'curve' || tail.kind === 'curve') {
      const from = point(a);
      const [x1, y1] = head.kind === 'curve' ? [from.x + (head.x1 - from.x) * span, from.y + (head.y1 - from.y) * span] : [from.x, from.y];
      const [x2, y2] = tail.kind === 'curve' ? [to.x + (tail.x2 - to.x) * span, to.y + (tail.y2 - to.y) * span] : [to.x, to.y];
      segments.push({ kind: 'curve', x1, y1, x2, y2, x: to.x, y: to.y });
    } else segments.push({ kind: 'line', x: to.x, y: to.y });
  }
  return { x: first.x, y: first.y, closed: subpath.closed, segments };
}

/** Makes the segments on both sides of a node curves with handles in one line, or pulls the handles in. */
function smoothNode(subpath: Subpath, node: number, smooth: boolean): void {
  const n = subpath.segments.length;
  const before = subpath.closed ? (node + n - 1) % n : node - 1;
  const after = subpath.closed ? node % n : node;
  const point = (i: number) => (i === 0 ? { x: subpath.x, y: subpath.y } : subpath.segments[(i - 1 + n) % n]);
  const at = point(node === 0 && subpath.closed ? n : node);
  const asCurve = (i: number): Extract<Segment, { kind: 'curve' }> | null => {
    if (i < 0 || i >= n) return null;
    const s = subpath.segments[i];
    const from = point(i);
    if (s.kind === 'curve') return s;
    if (s.kind === 'arc') {
      const pieces = arcAsCurves(from.x, from.y, s);
      if (pieces.length !== 1 || pieces[0].kind !== 'curve') return null;
      return (subpath.segments[i] = pieces[0]) as Extract<Segment, { kind: 'curve' }>;
    }
    const curve: Segment = {
      kind: 'curve',
      x1: from.x + (s.x - from.x) / 3,
      y1: from.y + (s.y - from.y) / 3,
      x2: s.x + (from.x - s.x) / 3,
      y2: s.y + (from.y - s.y) / 3,
      x: s.x,
      y: s.y,
    };
    return (subpath.segments[i] = curve) as Extract<Segment, { kind: 'curve' }>;
  };
  if (!smooth) {
    const [a, b] = [subpath.segments[before], subpath.segments[after]];
    if (before >= 0 && a?.kind === 'curve') [a.x2, a.y2] = [at.x, at.y];
    if (after < n && b?.kind === 'curve') [b.x1, b.y1] = [at.x, at.y];
    return;
  }
  const [a, b] = [asCurve(before), asCurve(after)];
  if (!a || !b) return;
  const [fa, fb] = [point(before), b];
  const la = Math.hypot(at.x - fa.x, at.y - fa.y) / 3;
  const lb = Math.hypot(fb.x - at.x, fb.y - at.y) / 3;
  const along = Math.hypot(fb.x - fa.x, fb.y - fa.y) || 1;
  const [ux, uy] = [(fb.x - fa.x) / along, (fb.y - fa.y) / along];
  [a.x2, a.y2] = [at.x - ux * la, at.y - uy * la];
  [b.x1, b.y1] = [at.x + ux * lb, at.y + uy * lb];
}

function joinEnds(subpaths: Subpath[], [sa, na]: NodeAt, [sb, nb]: NodeAt): Subpath[] {
  const [a, b] = [subpaths[sa], subpaths[sb]];
  const isEnd = (s: Subpath | undefined, n: number) => s && !s.closed && (n === 0 || n === s.segments.length);
  if (!isEnd(a, na) || !isEnd(b, nb) || (sa === sb && na === nb)) throw new Error('Only two ends of open lines can be joined.');
  if (sa === sb) {
    a.closed = true;
    return subpaths;
  }
  const head = na === 0 ? reversedPath(a) : a;
  const tail = nb === 0 ? b : reversedPath(b);
  const end = head.segments[head.segments.length - 1];
  const link: Segment[] = Math.hypot(end.x - tail.x, end.y - tail.y) > 1e-7 ? [{ kind: 'line', x: tail.x, y: tail.y }] : [];
  const joined: Subpath = { ...head, segments: [...head.segments, ...link, ...tail.segments] };
  return subpaths.map((s, i) => (i === sa ? joined : s)).filter((_, i) => i !== sb);
}
