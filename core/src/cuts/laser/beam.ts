/** Builds the path of a beam: dark moves and burning ones at one height, with a power for each. It never lifts: nothing stands in a beam's way but what the cut must know of itself. */
import { FEED, RAPID, type Span, type ToolEvent, type Toolpath } from '../../toolpath/index.ts';

/** Arrays that are filled to this share are kept as they are. */
const SPARE = 0.9;

export class BeamWriter {
  // Arrays that grow together: pictures have millions of moves.
  private count = 0;
  private kind = new Uint8Array(1024);
  private xs = new Float64Array(1024);
  private ys = new Float64Array(1024);
  private zs = new Float64Array(1024);
  private feeds = new Float64Array(1024);
  private powers = new Float64Array(1024);
  private readonly events: ToolEvent[] = [];
  private readonly spans: Span[] = [];
  private readonly feed: number;
  /** Height of the head from where its focus is on the surface, mm. */
  private z = 0;
  private x = NaN;
  private y = NaN;

  /** @param feed mm/min */
  constructor(feed: number) {
    this.feed = feed;
  }

  /** Room for so many more moves: what is known ahead need not grow, and is not copied in the end. */
  reserve(moves: number): void {
    if (this.count + moves > this.kind.length) this.grow(this.count + moves);
  }

  begin(cut: string, label: string, pass?: number): void {
    this.close();
    this.spans.push({ start: this.count, end: -1, cut, label, ...(pass === undefined ? {} : { pass }) });
  }

  /** Ready to burn, still dark. Constant power for a cut; dynamic power, which follows the speed, for marks. */
  ready(mode: 'constant' | 'dynamic', air: boolean): void {
    if (air) this.events.push({ at: this.count, assist: 'air' });
    this.events.push({ at: this.count, on: 0, ...(mode === 'constant' ? { constant: true } : {}) });
  }

  /** Focus so far below the surface from here on, mm; above it when below zero. */
  focus(below: number): void {
    if (this.z === 0 - below) return;
    this.z = 0 - below;
    if (!Number.isNaN(this.x)) this.put(RAPID, this.x, this.y, 0);
  }

  /** Dark and rapidly. */
  goTo(x: number, y: number): void {
    if (x !== this.x || y !== this.y || this.count === 0) this.put(RAPID, x, y, 0);
  }

  /** At the feed, dark when the power is 0. @param power share of full power */
  burnTo(x: number, y: number, power: number): void {
    if (x !== this.x || y !== this.y) this.put(FEED, x, y, power);
  }

  finish(air: boolean): Toolpath {
    const moves = this.count;
    if (moves > 0) {
      this.events.push({ at: moves, off: true });
      if (air) this.events.push({ at: moves, assist: 'none' });
    }
    this.close();
    // Where little is to spare nothing is copied.
    const cut = <A extends { slice(from: number, to: number): A; subarray(from: number, to: number): A }>(array: A): A =>
      moves > SPARE * this.kind.length ? array.subarray(0, moves) : array.slice(0, moves);
    return {
      kind: cut(this.kind),
      x: cut(this.xs),
      y: cut(this.ys),
      z: cut(this.zs),
      feed: cut(this.feeds),
      ...(moves > 0 ? { power: cut(this.powers), events: this.events } : {}),
      spans: this.spans,
    };
  }

  private close(): void {
    const last = this.spans.at(-1);
    if (last && last.end < 0) last.end = this.count;
    if (last && last.end === last.start) this.spans.pop();
  }

  private put(kind: number, x: number, y: number, power: number): void {
    const i = this.count++;
    if (i === this.kind.length) this.grow(2 * i);
    this.kind[i] = kind;
    this.xs[i] = x;
    this.ys[i] = y;
    this.zs[i] = this.z;
    this.feeds[i] = kind === RAPID ? 0 : this.feed;
    this.powers[i] = power;
    this.x = x;
    this.y = y;
  }

  private grow(size: number): void {
    const kind = new Uint8Array(size);
    kind.set(this.kind);
    this.kind = kind;
    for (const key of ['xs', 'ys', 'zs', 'feeds', 'powers'] as const) {
      const longer = new Float64Array(size);
      longer.set(this[key]);
      this[key] = longer;
    }
  }
}
