/**
 * The exact medial axis of one region: bisector tracing with an empty-disc oracle.
 *
 * Start in a convex corner (radius 0) and walk the bisector of its two edges. Ask the box tree
 * whether the disc at the far end of the walk is empty; while something reaches into it, go back
 * to where that something is exactly touched. Where a disc touches three or more sites there is
 * a node: its feet sorted by angle give one further walk between each pair of neighbours. Each
 * walk has a slot at both ends, named by the sites on its right and left, so that no walk is
 * made twice. (Derived; node positions are polished by Newton's method on the touched sites.)
 */
import type { Region } from '../contour.ts';
import { Bisector } from './bisector.ts';
import { Sites } from './sites.ts';

const CONTACT = 1e-9;
const SAME_NODE = 1e-5;

/**
 * Nodes and edges of the medial axis. Node i lies at (x[i], y[i]) with inscribed radius r[i];
 * corner[i] is the boundary vertex it stands on, or -1. Edge j joins nodes from[j] and to[j];
 * along it the nearest boundary is sites right[j] and left[j].
 */
export interface RawAxis {
  sites: Sites;
  x: number[];
  y: number[];
  r: number[];
  corner: number[];
  from: number[];
  to: number[];
  right: number[];
  left: number[];
  /** What is wrong with it: empty when it is connected, with a loop per hole and every corner reached. */
  trouble: string[];
}

/**
 * How a region is traced, one after the other until it comes out clean: as it is; with exact ties broken
 * by a wobble of millionths of a millimetre; and enlarged, for what is drawn so small that the distances
 * at which two places count as one are no longer small against it.
 */
const ATTEMPTS = [
  { jitter: 0, scale: 1 },
  { jitter: 2e-6, scale: 1 },
  { jitter: 0, scale: 64 },
  { jitter: 1e-5, scale: 1 },
  { jitter: 1e-5, scale: 64 },
  { jitter: 5e-5, scale: 1 },
];

/** Traces a region. What cannot be traced cleanly says so in its `trouble`. */
export function traceRegion(region: Region): RawAxis {
  let best: RawAxis | undefined;
  for (const { jitter, scale } of ATTEMPTS) {
    const sites = new Sites(region, jitter);
    sites.enlarge(scale);
    const axis = new Tracer(sites).run();
    sites.enlarge(1 / scale);
    for (const values of [axis.x, axis.y, axis.r]) for (let i = 0; i < values.length; i++) values[i] /= scale;
    if (axis.trouble.length === 0) return axis;
    if (!best || axis.trouble.length < best.trouble.length) best = axis;
  }
  return best!;
}

/**
 * An edge touched within this distance of its reflex end counts as touched in that vertex: so
 * near, the distances to the two differ by a quarter of the contact slack at most (s²/2r).
 */
const nearVertex = (r: number) => Math.sqrt(0.5 * r * CONTACT);

class Tracer {
  private readonly sites: Sites;
  private readonly bisector: Bisector;
  private readonly axis: RawAxis;
  /** Slots: walks that leave a node. */
  private readonly slotNode: number[] = [];
  private readonly slotRight: number[] = [];
  private readonly slotLeft: number[] = [];
  private readonly slotX: number[] = [];
  private readonly slotY: number[] = [];
  private readonly slotUsed: boolean[] = [];
  private readonly slotNext: number[] = [];
  private readonly slotsByPair = new Map<number, number>();
  private readonly cornerNode: Int32Array;
  private readonly ringTouched: Uint8Array;
  private lost = 0;
  /** A planar diagram has fewer than 3 nodes a site: more means walks going round in circles. */
  private readonly most: number;

  constructor(sites: Sites) {
    this.most = 4 * sites.count + 100;
    this.sites = sites;
    this.bisector = new Bisector(sites);
    this.axis = { sites, x: [], y: [], r: [], corner: [], from: [], to: [], right: [], left: [], trouble: [] };
    this.cornerNode = new Int32Array(sites.count).fill(-1);
    this.ringTouched = new Uint8Array(sites.rings);
  }

  run(): RawAxis {
    const { sites, axis } = this;
    if (sites.count < 3) {
      axis.trouble.push('degenerate outline');
      return axis;
    }
    for (let i = 0; i < sites.count; i++)
      if (sites.convex[i]) {
        this.cornerNode[i] = this.addNode(sites.x[i], sites.y[i], 0, i);
      }
    const reached = new Uint8Array(sites.count);
    let next = 0;
    for (let i = 0; i < sites.count; i++) {
      if (!sites.convex[i] || reached[i]) continue;
      const p = sites.prev[i];
      const nx = -sites.dy[p] - sites.dy[i];
      const ny = sites.dx[p] + sites.dx[i];
      const flat = sites.dx[p] * sites.dx[i] + sites.dy[p] * sites.dy[i] > 0;
      this.walk(this.cornerNode[i], i, p, flat ? nx : sites.dx[i] - sites.dx[p], flat ? ny : sites.dy[i] - sites.dy[p]);
      reached[i] = 1;
      for (; next < this.slotNode.length; next++) {
        if (this.slotUsed[next]) continue;
        if (axis.x.length > this.most) {
          axis.trouble.push('walks go round in circles');
          return axis;
        }
        this.slotUsed[next] = true;
        this.walk(this.slotNode[next], this.slotRight[next], this.slotLeft[next], this.slotX[next], this.slotY[next]);
      }
      for (let e = 0; e < axis.from.length; e++) {
        if (axis.corner[axis.from[e]] >= 0) reached[axis.corner[axis.from[e]]] = 1;
        if (axis.corner[axis.to[e]] >= 0) reached[axis.corner[axis.to[e]]] = 1;
      }
    }
    this.verify();
    return axis;
  }

  private addNode(x: number, y: number, r: number, corner: number): number {
    this.axis.x.push(x);
    this.axis.y.push(y);
    this.axis.r.push(r);
    this.axis.corner.push(corner);
    return this.axis.x.length - 1;
  }

  private addEdge(from: number, to: number, right: number, left: number): void {
    const { sites } = this;
    const n = sites.count;
    this.axis.from.push(from);
    this.axis.to.push(to);
    this.axis.right.push(right);
    this.axis.left.push(left);
    this.ringTouched[sites.ring[right % n]] = 1;
    this.ringTouched[sites.ring[left % n]] = 1;
  }

  /** Walks from a node between two sites until the next true node. */
  private walk(node: number, right: number, left: number, hx: number, hy: number): void {
    const { sites, bisector, axis } = this;
    const n = sites.count;
    let x = axis.x[node];
    let y = axis.y[node];
    for (let handovers = 0; axis.x.length <= this.most;) {
      const corner = right < n && left < n && sites.next[right] === left && sites.convex[left] ? left : -1;
      if (corner >= 0 && sites.rings === 1) {
        this.addEdge(node, this.cornerNode[corner], right, left);
        return;
      }
      bisector.start(right, left, x, y, hx, hy);
      bisector.findExit(right, left);
      const { exit } = bisector;
      let t = exit.t;
      const { side, successor } = exit;
      if (t === 0 && successor >= 0) {
        if (++handovers > 8) break;
        if (side === 0) right = successor;
        else left = successor;
        continue;
      }
      if (corner >= 0) t = -axis.r[node] / bisector.radiusSlope;
      if (t === Infinity) t = 4 * (sites.ringBox[2] - sites.ringBox[0] + sites.ringBox[3] - sites.ringBox[1]);
      const stop = this.firstContact(t, corner >= 0, right, left);
      if (stop < 0) break;
      if (stop === t && corner >= 0) {
        this.addEdge(node, this.cornerNode[corner], right, left);
        return;
      }
      bisector.at(stop);
      const arrived = this.arrive(node, right, left);
      if (arrived) return;
      if (successor < 0 || stop !== t) break;
      // Only the reach of one site ended: a joint of two pieces, not a branching.
      [hx, hy] = bisector.heading(stop);
      bisector.at(stop);
      const joint = this.addNode(bisector.x, bisector.y, bisector.r, -1);
      this.addEdge(node, joint, right, left);
      node = joint;
      x = bisector.x;
      y = bisector.y;
      if (side === 0) right = successor;
      else left = successor;
      handovers = 0;
    }
    this.lost++;
  }

  /**
   * Parameter of the first disc on the walk that touches a third site, at most t; t itself when
   * nothing comes nearer before. -1 when the walk makes no sense.
   */
  private firstContact(t: number, towardsCorner: boolean, right: number, left: number): number {
    const stop = towardsCorner ? t : this.retreat(t);
    if (stop < 0 || this.sites.rings === 1) return stop;
    const hidden = this.islandBefore(stop, right, left);
    return hidden < 0 ? stop : this.retreat(hidden);
  }

  /** From t back to where nothing reaches into the disc. */
  private retreat(t: number): number {
    const { bisector, sites } = this;
    for (let guard = 0; guard < 60; guard++) {
      bisector.at(t);
      const intruder = sites.probe(bisector.x, bisector.y, bisector.r, CONTACT);
      if (intruder < 0) return t;
      const touch = this.touchOf(intruder, t);
      if (touch < 0) return -1;
      if (touch >= t) return t;
      t = touch;
    }
    return -1;
  }

  /**
   * An island beside a corridor could lie between two empty discs. The gap between a disc and the
   * circle round an island changes at most twice as fast as the way is long, so the way is taken in
   * steps of half the smallest gap; inside such a circle in steps the island cannot hide in. An
   * island that the walk has as its wall cannot be hidden: its outline would have to cross a disc.
   *
   * @returns where a disc before t is not empty, or -1
   */
  private islandBefore(t: number, right: number, left: number): number {
    const { bisector, sites } = this;
    const islands = this.islandsNear(t, sites.ring[right % sites.count], sites.ring[left % sites.count]);
    if (islands.length === 0) return -1;
    let from = 0;
    for (let guard = 0; guard < 10000; guard++) {
      bisector.at(from);
      const { x, y, r, speed } = bisector;
      let step = Infinity;
      for (const island of islands) {
        const size = sites.islandSize(island);
        const gap = Math.hypot(x - sites.islandX(island), y - sites.islandY(island)) - r - size;
        step = Math.min(step, Math.max(gap / 2, size / 2, Math.sqrt(2 * r * size)));
      }
      from += step / speed;
      if (from >= t) return -1;
      bisector.at(from);
      if (bisector.r > 0 && sites.probe(bisector.x, bisector.y, bisector.r, CONTACT) >= 0) return from;
    }
    return -1;
  }

  /** Islands, but two, that a disc on the way to t may touch. */
  private islandsNear(t: number, but: number, butToo: number): number[] {
    const { bisector, sites } = this;
    let [minX, minY, maxX, maxY, reach, apart] = [Infinity, Infinity, -Infinity, -Infinity, 0, 0];
    let [px, py] = [NaN, NaN];
    for (let k = 0; k <= 8; k++) {
      bisector.at((t * k) / 8);
      const { x, y, r } = bisector;
      minX = Math.min(minX, x);
      maxX = Math.max(maxX, x);
      minY = Math.min(minY, y);
      maxY = Math.max(maxY, y);
      reach = Math.max(reach, r);
      if (k > 0) apart = Math.max(apart, Math.hypot(x - px, y - py));
      [px, py] = [x, y];
    }
    reach += apart;
    const near: number[] = [];
    for (let ring = 1; ring < sites.rings; ring++) {
      const b = 4 * ring;
      const { ringBox } = sites;
      if (ring === but || ring === butToo || ringBox[b] > maxX + reach || ringBox[b + 2] < minX - reach) continue;
      if (ringBox[b + 1] <= maxY + reach && ringBox[b + 3] >= minY - reach) near.push(ring);
    }
    return near;
  }

  /** Root of (distance to the edge - radius) in (0, t), where it is negative at t. */
  private touchOf(edge: number, t: number): number {
    const { bisector, sites } = this;
    const gap = (at: number) => {
      bisector.at(at);
      return sites.edgeDistance(edge, bisector.x, bisector.y) - bisector.r;
    };
    let hi = t;
    let fhi = gap(t);
    let lo = 0;
    let flo = gap(0);
    if (flo <= CONTACT) {
      let found = false;
      for (let k = t / 2, i = 0; i < 30; i++, k /= 2) {
        const f = gap(k);
        if (f > CONTACT) {
          lo = k;
          flo = f;
          found = true;
          break;
        }
        hi = k;
        fhi = f;
      }
      if (!found) return -1;
      if (fhi >= 0) return hi;
    }
    // Bracketed false position with halving of a stuck end (Illinois), then bisection if slow.
    let stuck = 0;
    for (let i = 0; i < 100; i++) {
      const at = i > 40 ? (lo + hi) / 2 : (lo * fhi - hi * flo) / (fhi - flo);
      const f = gap(at);
      if (Math.abs(f) < 1e-14 || hi - lo < 1e-14 * (1 + hi)) return at;
      if (f > 0) {
        lo = at;
        flo = f;
        if (stuck === 1) fhi /= 2;
        stuck = 1;
      } else {
        hi = at;
        fhi = f;
        if (stuck === -1) flo /= 2;
        stuck = -1;
      }
    }
    return (lo + hi) / 2;
  }

  /** Joins or makes the node at the bisector's present point. False when nothing but the two sites is touched. */
  private arrive(node: number, right: number, left: number): boolean {
    const { sites, bisector, axis } = this;
    const n = sites.count;
    let { x, y, r } = bisector;
    if (sites.probe(x, y, r, CONTACT) >= 0) {
      // Noise of the root: widen by what it takes.
      sites.probe(x, y, r, 10 * CONTACT);
    }
    const found: number[] = [];
    for (const edge of sites.touched) {
      const site = sites.siteTouched(edge, x, y, nearVertex(r));
      if (!found.includes(site)) found.push(site);
    }
    // A vertex and an edge that ends in it are one touch here: the edge has it, its foot being inside.
    for (let k = found.length - 1; k >= 0; k--) {
      const v = found[k] - n;
      if (v >= 0 && (found.includes(v) || found.includes(sites.prev[v]))) found.splice(k, 1);
    }
    const r1 = this.sameTouch(right, found);
    const l1 = this.sameTouch(left, found);
    if (!found.includes(r1)) found.push(r1);
    if (!found.includes(l1)) found.push(l1);
    if (found.length < 3) return false;
    if (found.length === 3) [x, y, r] = this.polished(found, x, y, r);

    // Is it known already? Then the slot that leads back here is free there.
    const key = l1 * (2 * n) + r1;
    for (let slot = this.slotsByPair.get(key) ?? -1; slot >= 0; slot = this.slotNext[slot]) {
      const other = this.slotNode[slot];
      if (!this.slotUsed[slot] && Math.abs(axis.x[other] - x) + Math.abs(axis.y[other] - y) < SAME_NODE) {
        this.slotUsed[slot] = true;
        this.addEdge(node, other, right, left);
        return true;
      }
    }

    const made = this.addNode(x, y, r, -1);
    this.addEdge(node, made, right, left);
    const angles = found.map((site) => {
      const [fx, fy] = this.footOf(site, x, y);
      return Math.atan2(fy - y, fx - x);
    });
    const order = found.map((_, i) => i).sort((a, b) => angles[a] - angles[b]);
    let returned = false;
    for (let i = 0; i < order.length; i++) {
      const a = order[i];
      const b = order[(i + 1) % order.length];
      const slotRight = found[a];
      const slotLeft = found[b];
      let sector = angles[b] - angles[a];
      if (sector <= 0) sector += 2 * Math.PI;
      const back = slotRight === l1 && slotLeft === r1;
      if (back) returned = true;
      const middle = angles[a] + sector / 2;
      const slot = this.slotNode.length;
      this.slotNode.push(made);
      this.slotRight.push(slotRight);
      this.slotLeft.push(slotLeft);
      this.slotX.push(Math.cos(middle));
      this.slotY.push(Math.sin(middle));
      this.slotUsed.push(back);
      const pair = slotRight * (2 * n) + slotLeft;
      this.slotNext.push(this.slotsByPair.get(pair) ?? -1);
      this.slotsByPair.set(pair, slot);
    }
    if (!returned) this.lost++;
    return true;
  }

  /** The site under which a node knows the touch that a walk knows as `site`. */
  private sameTouch(site: number, found: readonly number[]): number {
    if (found.includes(site)) return site;
    const { sites } = this;
    const n = sites.count;
    const others = site < n ? [n + site, n + sites.next[site]] : [site - n, sites.prev[site - n]];
    return others.find((other) => found.includes(other)) ?? site;
  }

  private footOf(site: number, x: number, y: number): [number, number] {
    const { sites } = this;
    if (site >= sites.count) return [sites.x[site - sites.count], sites.y[site - sites.count]];
    const s = Math.min(sites.length[site], Math.max(0, (x - sites.x[site]) * sites.dx[site] + (y - sites.y[site]) * sites.dy[site]));
    return [sites.x[site] + s * sites.dx[site], sites.y[site] + s * sites.dy[site]];
  }

  /** Two Newton steps towards equal distance from three sites; keeps the start when ill-conditioned. */
  private polished(found: number[], x: number, y: number, r: number): [number, number, number] {
    let [px, py, pr] = [x, y, r];
    for (let round = 0; round < 2; round++) {
      const g: number[] = [];
      for (const site of found) {
        const [fx, fy] = this.footOf(site, px, py);
        const d = Math.hypot(px - fx, py - fy);
        if (d < 1e-9) return [x, y, r];
        g.push((px - fx) / d, (py - fy) / d, pr - d);
      }
      const ax = g[3] - g[0];
      const ay = g[4] - g[1];
      const bx = g[6] - g[0];
      const by = g[7] - g[1];
      const det = ax * by - ay * bx;
      if (Math.abs(det) < 1e-3) return [x, y, r];
      const ca = g[5] - g[2];
      const cb = g[8] - g[2];
      const mx = (ca * by - ay * cb) / det;
      const my = (ax * cb - ca * bx) / det;
      px += mx;
      py += my;
      pr += g[0] * mx + g[1] * my - g[2];
    }
    return Math.hypot(px - x, py - y) < 1e-6 ? [px, py, pr] : [x, y, r];
  }

  /** Topology every medial axis has: one connected piece, one loop per hole, every corner reached. */
  private verify(): void {
    const { axis, sites } = this;
    const nodes = axis.x.length;
    const parent = Int32Array.from({ length: nodes }, (_, i) => i);
    const root = (i: number) => {
      while (parent[i] !== i) {
        parent[i] = parent[parent[i]];
        i = parent[i];
      }
      return i;
    };
    let pieces = nodes;
    for (let e = 0; e < axis.from.length; e++) {
      const a = root(axis.from[e]);
      const b = root(axis.to[e]);
      if (a !== b) {
        parent[a] = b;
        pieces--;
      }
    }
    if (this.lost) axis.trouble.push(`${this.lost} walks lost`);
    if (pieces !== 1) axis.trouble.push(`${pieces} pieces instead of 1`);
    const loops = axis.from.length - nodes + pieces;
    if (loops !== sites.rings - 1) axis.trouble.push(`${loops} loops for ${sites.rings - 1} holes`);
    this.ringTouched.forEach((touched, ring) => {
      if (!touched) axis.trouble.push(`ring ${ring} was never touched`);
    });
  }
}
