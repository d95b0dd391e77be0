/**
 * The sites of a region's Voronoi diagram: its edges and its reflex vertices, with a box tree
 * over the edges that answers "is this disc empty, and what does it touch?".
 *
 * Edge i runs from vertex i to vertex next[i] with the inside on its left. Site numbers below
 * `count` are edges; site `count + i` is vertex i.
 */
import { contoursOf, type Region } from '../contour.ts';

const LEAF = 4;
/** A vertex this near (mm) to the line of its neighbours bends nothing. */
const STRAIGHT = 1e-6;

export class Sites {
  readonly count: number;
  readonly x: Float64Array;
  readonly y: Float64Array;
  /** Unit direction and length of each edge. */
  readonly dx: Float64Array;
  readonly dy: Float64Array;
  readonly length: Float64Array;
  readonly next: Int32Array;
  readonly prev: Int32Array;
  /** 1 where the inside angle is less than 180 degrees. */
  readonly convex: Uint8Array;
  /** 1 where the vertex only approximates a curve. */
  readonly smooth: Uint8Array;
  /** Ring of each vertex: 0 is the outer contour. */
  readonly ring: Int32Array;
  readonly rings: number;
  /** Box of each ring: minX, minY, maxX, maxY. */
  readonly ringBox: Float64Array;
  /** Edges touched by the last probe. */
  readonly touched: number[] = [];

  private readonly boxes: Float64Array;
  private readonly levelStart: number[] = [];
  private readonly levelSize: number[] = [];
  private readonly stack = new Int32Array(128);

  /** @param jitter mm; moves every vertex a fixed, repeatable little way, to break exact ties */
  constructor(region: Region, jitter: number) {
    const rings = contoursOf(region).map((contour, ring) => cleaned(contour.xy, contour.smooth, jitter, ring));
    const n = rings.reduce((sum, ring) => sum + ring.flags.length, 0);
    this.count = n;
    this.rings = rings.length;
    this.x = new Float64Array(n);
    this.y = new Float64Array(n);
    this.dx = new Float64Array(n);
    this.dy = new Float64Array(n);
    this.length = new Float64Array(n);
    this.next = new Int32Array(n);
    this.prev = new Int32Array(n);
    this.convex = new Uint8Array(n);
    this.smooth = new Uint8Array(n);
    this.ring = new Int32Array(n);
    this.ringBox = new Float64Array(4 * rings.length);
    let base = 0;
    rings.forEach(({ xy, flags }, ring) => {
      const m = flags.length;
      this.ringBox.set([Infinity, Infinity, -Infinity, -Infinity], 4 * ring);
      for (let i = 0; i < m; i++) {
        this.x[base + i] = xy[2 * i];
        this.y[base + i] = xy[2 * i + 1];
        this.next[base + i] = base + ((i + 1) % m);
        this.prev[base + i] = base + ((i + m - 1) % m);
        this.smooth[base + i] = flags[i];
        this.ring[base + i] = ring;
        const b = 4 * ring;
        this.ringBox[b] = Math.min(this.ringBox[b], xy[2 * i]);
        this.ringBox[b + 1] = Math.min(this.ringBox[b + 1], xy[2 * i + 1]);
        this.ringBox[b + 2] = Math.max(this.ringBox[b + 2], xy[2 * i]);
        this.ringBox[b + 3] = Math.max(this.ringBox[b + 3], xy[2 * i + 1]);
      }
      base += m;
    });
    for (let i = 0; i < n; i++) {
      const j = this.next[i];
      const ex = this.x[j] - this.x[i];
      const ey = this.y[j] - this.y[i];
      const length = Math.hypot(ex, ey);
      this.length[i] = length;
      this.dx[i] = ex / length;
      this.dy[i] = ey / length;
    }
    for (let i = 0; i < n; i++) {
      const p = this.prev[i];
      this.convex[i] = this.dx[p] * this.dy[i] - this.dy[p] * this.dx[i] > 0 ? 1 : 0;
    }
    this.boxes = this.buildTree();
  }

  /** Makes everything larger, or smaller, about the origin. By a power of two and back nothing is rounded. */
  enlarge(scale: number): void {
    if (scale === 1) return;
    for (const values of [this.x, this.y, this.length, this.ringBox, this.boxes]) for (let i = 0; i < values.length; i++) values[i] *= scale;
  }

  /** Half the diagonal and the middle of the box of a hole. */
  islandSize(ring: number): number {
    const b = 4 * ring;
    return Math.hypot(this.ringBox[b + 2] - this.ringBox[b], this.ringBox[b + 3] - this.ringBox[b + 1]) / 2;
  }
  islandX(ring: number): number {
    return (this.ringBox[4 * ring] + this.ringBox[4 * ring + 2]) / 2;
  }
  islandY(ring: number): number {
    return (this.ringBox[4 * ring + 1] + this.ringBox[4 * ring + 3]) / 2;
  }

  /** Distance from a point to edge i, as a closed segment. */
  edgeDistance(i: number, px: number, py: number): number {
    const qx = px - this.x[i];
    const qy = py - this.y[i];
    const s = qx * this.dx[i] + qy * this.dy[i];
    if (s > 0 && s < this.length[i]) return Math.abs(qy * this.dx[i] - qx * this.dy[i]);
    if (s <= 0) return Math.sqrt(qx * qx + qy * qy);
    const j = this.next[i];
    return Math.hypot(px - this.x[j], py - this.y[j]);
  }

  /**
   * Looks into the disc at (px, py) of radius r. Returns the edge that reaches furthest into it
   * (closer than r - slack), or -1 when it is empty; then `touched` lists every edge within
   * r + slack.
   */
  probe(px: number, py: number, r: number, slack: number): number {
    this.touched.length = 0;
    const reach = r + slack;
    let limit = reach * reach;
    let intruder = -1;
    let deepest = r - slack;
    let top = 0;
    const last = this.levelStart.length - 1;
    this.stack[top++] = last;
    this.stack[top++] = 0;
    while (top > 0) {
      const k = this.stack[--top];
      const level = this.stack[--top];
      const b = 4 * (this.levelStart[level] + k);
      const ox = Math.max(this.boxes[b] - px, 0, px - this.boxes[b + 2]);
      const oy = Math.max(this.boxes[b + 1] - py, 0, py - this.boxes[b + 3]);
      if (ox * ox + oy * oy > limit) continue;
      if (level > 0) {
        if (2 * k + 1 < this.levelSize[level - 1]) {
          this.stack[top++] = level - 1;
          this.stack[top++] = 2 * k + 1;
        }
        this.stack[top++] = level - 1;
        this.stack[top++] = 2 * k;
        continue;
      }
      const end = Math.min(this.count, (k + 1) * LEAF);
      for (let i = k * LEAF; i < end; i++) {
        const d = this.edgeDistance(i, px, py);
        if (d < deepest) {
          deepest = d;
          intruder = i;
          limit = d * d;
        } else if (intruder < 0 && d <= reach) this.touched.push(i);
      }
    }
    return intruder;
  }

  /** The site of edge i that the disc at (px, py) really touches: the edge, or one of its ends. */
  siteTouched(i: number, px: number, py: number, near: number): number {
    const s = (px - this.x[i]) * this.dx[i] + (py - this.y[i]) * this.dy[i];
    if (s <= near && !this.convex[i]) return this.count + i;
    const j = this.next[i];
    if (s >= this.length[i] - near && !this.convex[j]) return this.count + j;
    return i;
  }

  private buildTree(): Float64Array {
    const leaves = Math.ceil(this.count / LEAF);
    let total = 0;
    for (let size = leaves; ; size = Math.ceil(size / 2)) {
      this.levelStart.push(total);
      this.levelSize.push(size);
      total += size;
      if (size === 1) break;
    }
    const boxes = new Float64Array(4 * total);
    for (let k = 0; k < leaves; k++) {
      let minX = Infinity;
      let minY = Infinity;
      let maxX = -Infinity;
      let maxY = -Infinity;
      for (let i = k * LEAF; i < Math.min(this.count, (k + 1) * LEAF); i++) {
        const j = this.next[i];
        minX = Math.min(minX, this.x[i], this.x[j]);
        maxX = Math.max(maxX, this.x[i], this.x[j]);
        minY = Math.min(minY, this.y[i], this.y[j]);
        maxY = Math.max(maxY, this.y[i], this.y[j]);
      }
      boxes.set([minX, minY, maxX, maxY], 4 * k);
    }
    for (let level = 1; level < this.levelStart.length; level++)
      for (let k = 0; k < this.levelSize[level]; k++) {
        const a = 4 * (this.levelStart[level - 1] + 2 * k);
        const b = 2 * k + 1 < this.levelSize[level - 1] ? a + 4 : a;
        const to = 4 * (this.levelStart[level] + k);
        boxes[to] = Math.min(boxes[a], boxes[b]);
        boxes[to + 1] = Math.min(boxes[a + 1], boxes[b + 1]);
        boxes[to + 2] = Math.max(boxes[a + 2], boxes[b + 2]);
        boxes[to + 3] = Math.max(boxes[a + 3], boxes[b + 3]);
      }
    return boxes;
  }
}

/** Drops doubled points, points on a straight run and hairline spikes; they carry no shape. */
function cleaned(xy: Float64Array, smooth: Uint8Array, jitter: number, ring: number): { xy: number[]; flags: number[] } {
  let px: number[] = [];
  let py: number[] = [];
  let flags: number[] = [];
  let seed = 12345 + 7919 * ring;
  const wobble = () => {
    seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff;
    return jitter * (seed / 0x3fffffff - 1);
  };
  for (let i = 0; i < smooth.length; i++) {
    px.push(xy[2 * i] + (jitter ? wobble() : 0));
    py.push(xy[2 * i + 1] + (jitter ? wobble() : 0));
    flags.push(smooth[i]);
  }
  for (let changed = true; changed && px.length > 3;) {
    changed = false;
    const qx: number[] = [];
    const qy: number[] = [];
    const qf: number[] = [];
    const n = px.length;
    for (let i = 0; i < n; i++) {
      const a = qx.length ? qx.length - 1 : -1;
      const fromX = a >= 0 ? qx[a] : px[n - 1];
      const fromY = a >= 0 ? qy[a] : py[n - 1];
      const toX = px[(i + 1) % n];
      const toY = py[(i + 1) % n];
      const ax = px[i] - fromX;
      const ay = py[i] - fromY;
      const bx = toX - px[i];
      const by = toY - py[i];
      const la = Math.hypot(ax, ay);
      const lb = Math.hypot(bx, by);
      const cross = Math.abs(ax * by - ay * bx);
      // On the straight between its neighbours, within the grid; or the tip of a spike without width.
      const straight = ax * bx + ay * by > 0 ? cross <= STRAIGHT * Math.hypot(ax + bx, ay + by) : cross <= 1e-11 * la * lb;
      if (la < 2e-6 || straight) {
        changed = true;
        continue;
      }
      qx.push(px[i]);
      qy.push(py[i]);
      qf.push(flags[i]);
    }
    px = qx;
    py = qy;
    flags = qf;
  }
  if (px.length < 3) return { xy: [], flags: [] };
  return { xy: px.flatMap((x, i) => [x, py[i]]), flags };
}
