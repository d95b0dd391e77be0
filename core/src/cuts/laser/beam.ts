/** Builds the path of a beam: dark moves and burning ones at one height, with a power for each. It never lifts: nothing stands in a beam's way but what the cut must know of itself. */
import { FEED, RAPID, type Span, type ToolEvent, type Toolpath } from '../../toolpath/index.ts';

/** Numbers that grow: pictures have millions of moves. */
class Column {
  private data = new Float64Array(1024);
  length = 0;
  push(value: number): void {
    if (this.length === this.data.length) {
      const next = new Float64Array(2 * this.length);
      next.set(this.data);
      this.data = next;
    }
    this.data[this.length++] = value;
  }
  done(): Float64Array {
    return this.data.slice(0, this.length);
  }
}

export class BeamWriter {
  private readonly kind = new Column();
  private readonly xs = new Column();
  private readonly ys = new Column();
  private readonly zs = new Column();
  private readonly feeds = new Column();
  private readonly powers = new Column();
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
    this.spans.push({ start: this.kind.length, end: -1, cut, label, ...(pass === undefined ? {} : { pass }) });
  }

  /** Ready to burn, still dark. Constant power for a cut; dynamic power, which follows the speed, for marks. */
  ready(mode: 'constant' | 'dynamic', air: boolean): void {
    if (air) this.events.push({ at: this.kind.length, assist: 'air' });
    this.events.push({ at: this.kind.length, on: 0, ...(mode === 'constant' ? { constant: true } : {}) });
  }

  /** Focus so far below the surface from here on, mm; above it when below zero. */
  focus(below: number): void {
    if (this.z === 0 - below) return;
    this.z = 0 - below;
    if (!Number.isNaN(this.x)) this.put(RAPID, this.x, this.y, 0);
  }

  /** Dark and rapidly. */
  goTo(x: number, y: number): void {
    if (x !== this.x || y !== this.y || this.kind.length === 0) this.put(RAPID, x, y, 0);
  }

  /** At the feed, dark when the power is 0. @param power share of full power */
  burnTo(x: number, y: number, power: number): void {
    if (x !== this.x || y !== this.y) this.put(FEED, x, y, power);
  }

  finish(air: boolean): Toolpath {
    const moves = this.kind.length;
    if (moves > 0) {
      this.events.push({ at: moves, off: true });
      if (air) this.events.push({ at: moves, assist: 'none' });
    }
    this.close();
    return {
      kind: Uint8Array.from(this.kind.done()),
      x: this.xs.done(),
      y: this.ys.done(),
      z: this.zs.done(),
      feed: this.feeds.done(),
      ...(moves > 0 ? { power: this.powers.done(), events: this.events } : {}),
      spans: this.spans,
    };
  }

  private close(): void {
    const last = this.spans.at(-1);
    if (last && last.end < 0) last.end = this.kind.length;
    if (last && last.end === last.start) this.spans.pop();
  }

  private put(kind: number, x: number, y: number, power: number): void {
    this.kind.push(kind);
    this.xs.push(x);
    this.ys.push(y);
    this.zs.push(this.z);
    this.feeds.push(kind === RAPID ? 0 : this.feed);
    this.powers.push(power);
    [this.x, this.y] = [x, y];
  }
}
