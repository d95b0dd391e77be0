/** Builds the path of a beam: dark moves and burning ones at one height, with a power for each. It never lifts: nothing stands in a beam's way but what the cut must know of itself. */
import { FEED, RAPID, type Span, type ToolEvent, type Toolpath } from '../../toolpath/index.ts';

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
    return {
      kind: this.kind.slice(0, moves),
      x: this.xs.slice(0, moves),
      y: this.ys.slice(0, moves),
      z: this.zs.slice(0, moves),
      feed: this.feeds.slice(0, moves),
      ...(moves > 0 ? { power: this.powers.slice(0, moves), events: this.events } : {}),
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
    if (i === this.kind.length) this.grow();
    this.kind[i] = kind;
    this.xs[i] = x;
    this.ys[i] = y;
    this.zs[i] = this.z;
    this.feeds[i] = kind === RAPID ? 0 : this.feed;
    this.powers[i] = power;
    this.x = x;
    this.y = y;
  }

  private grow(): void {
    const size = 2 * this.kind.length;
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
