/**
 * What is looked at in the proof beside the plan itself: a moment of the job, marks on the board, a
 * finer picture, a version kept for comparison, and what was measured.
 */
import type { Moment } from '@kerbe/core/proof';
import type { BoardMap, BurnView, DifferenceView } from '$lib/job/planner';
import type { JobSession } from '$lib/job/session.svelte';
import type { View } from '$lib/board/camera';
import { LOOKS, lookOf, type LookName } from '@kerbe/core/proof/looks';

export const CORNER: View = { yaw: -0.35, pitch: 0.85, distance: 1.12, x: 0.5, y: 0.5 };
export const ABOVE: View = { yaw: 0, pitch: Math.PI / 2 - 1e-3, distance: 1.08, x: 0.5, y: 0.5 };

/** A carved board that was kept to be compared with. */
export interface KeptBoard {
  label: string;
  map: BoardMap;
  seconds: number;
  deepest: number;
}

export interface Marks {
  columns: number;
  rows: number;
  kinds: Uint8Array;
  as: 'difference' | 'cuts';
}

/** Cells the picture is refined to once nothing changes for a while, mm, and finer on request. */
const FINAL = 0.1;

export class ProofDesk {
  view = $state.raw<View>(CORNER);
  /** Seconds into the job; nothing: its end. */
  time = $state<number | null>(null);
  moment = $state.raw<Moment | null>(null);
  marks = $state.raw<Marks | null>(null);
  difference = $state.raw<DifferenceView | null>(null);
  kept = $state.raw<KeptBoard | null>(null);
  measuring = $state(false);
  /** A section line drawn on the board, from and to, mm. */
  line = $state.raw<{ from: [number, number]; to: [number, number] } | null>(null);
  /** The sheet as the beam leaves it, at the time that is looked at. */
  burn = $state.raw<BurnView | null>(null);
  private burning: { t: number | null } | null = null;
  busy = $state<string | null>(null);
  why = $state<string | null>(null);
  look = $state<LookName | 'material'>('material');
  paint = $state<string | null>(null);
  /** The picture is as fine as a board of this size can be shown. */
  finest = $state(false);
  private scrubbed = $state.raw<BoardMap | null>(null);
  private fine = $state.raw<BoardMap | null>(null);
  private wanted: number | null = null;
  private asking = false;
  private readonly session: JobSession;

  constructor(session: JobSession) {
    this.session = session;
    try {
      const kept = JSON.parse(localStorage.getItem(this.key) ?? '{}') as { look?: string; paint?: string | null };
      if (kept.look && (kept.look in LOOKS || kept.look === 'material')) this.look = kept.look as LookName;
      if (typeof kept.paint === 'string') this.paint = kept.paint;
    } catch {
      localStorage.removeItem(this.key);
    }
  }

  /** The board as it is to be shown. */
  get map(): BoardMap | null {
    const { plan } = this.session;
    if (!plan) return null;
    if (this.time !== null && this.scrubbed) return this.scrubbed;
    return this.fine ?? plan.map;
  }

  get lookName(): LookName {
    return this.look === 'material' ? lookOf(this.session.job.board.material) : this.look;
  }

  dress(look: LookName | 'material', paint: string | null): void {
    this.look = look;
    this.paint = paint;
    localStorage.setItem(this.key, JSON.stringify({ look, paint }));
  }

  /** A new plan is shown: what was worked out of the one before is gone, what is still wanted is worked out again. */
  renewed(): void {
    this.fine = null;
    this.finest = false;
    this.scrubbed = null;
    if (this.time !== null && this.session.plan) void this.scrub(Math.min(this.time, this.session.plan.time.atMachine));
    if (this.marks?.as === 'cuts') void this.showCuts(true);
    else if (this.difference) void this.showDifference(true);
  }

  /** Asks for the burned sheet as it is to be shown. Only the newest wish is followed. */
  async showBurn(): Promise<void> {
    const asking = this.burning !== null;
    this.burning = { t: this.time };
    if (asking) return;
    while (this.burning) {
      const { t }: { t: number | null } = this.burning;
      try {
        this.burn = await this.session.ask('burn', { cell: FINAL, t });
      } catch {
        // The plan was cancelled; the next one asks again.
      }
      if (this.burning.t === t) this.burning = null;
    }
  }

  /** Shows the board at a second of the job. Only the newest wish is followed. */
  async scrub(t: number | null): Promise<void> {
    this.time = t;
    if (t === null) {
      this.scrubbed = null;
      this.moment = null;
      return;
    }
    this.wanted = t;
    if (this.asking) return;
    this.asking = true;
    try {
      while (this.wanted !== null) {
        const asked = this.wanted;
        this.wanted = null;
        const { map, moment } = await this.session.ask('scrub', { t: asked });
        if (this.time === null) break;
        this.scrubbed = this.session.mapOf(map);
        this.moment = moment;
      }
    } catch {
      // The plan was cancelled; the next one asks again.
    }
    this.asking = false;
  }

  async showCuts(on: boolean): Promise<void> {
    this.difference = null;
    this.marks = null;
    if (!on) return;
    await this.work('Looking which cut did what', async () => {
      const { owners } = await this.session.ask('owners', {});
      this.marks = { ...this.grid(), kinds: owners, as: 'cuts' };
    });
  }

  async showDifference(on: boolean): Promise<void> {
    this.marks = null;
    if (!on) {
      this.difference = null;
      return;
    }
    await this.work('Comparing with the drawing', async () => {
      this.difference = await this.session.ask('difference', {});
      this.marks = { ...this.grid(), kinds: this.difference.classes, as: 'difference' };
    });
  }

  /** The same board on finer cells; by itself once things are quiet. */
  async refine(cell = FINAL): Promise<void> {
    const { plan } = this.session;
    if (!plan || plan.cuts.length === 0 || (this.fine ?? plan.map).cell <= cell) return;
    try {
      const { map } = await this.session.ask('finer', { cell });
      if (this.session.plan !== plan) return;
      // Asked for finer than it came: there are no more cells to be had.
      this.finest = map.cell > cell;
      if (map.cell < (this.fine ?? plan.map).cell) this.fine = this.session.mapOf(map);
    } catch {
      // The picture stays as coarse as it is.
    }
  }

  keep(label: string): void {
    const { plan } = this.session;
    const map = this.fine ?? plan?.map;
    // A copy: the live map is renewed in place.
    if (plan && map)
      this.kept = { label, map: { ...map, height: map.height.slice(), spare: undefined, changed: null }, seconds: plan.time.atMachine, deepest: plan.deepest };
  }

  private grid(): { columns: number; rows: number } {
    const { columns, rows } = this.session.plan!.map;
    return { columns, rows };
  }

  private async work(what: string, act: () => Promise<void>): Promise<void> {
    this.busy = what;
    this.why = null;
    try {
      await act();
    } catch (error) {
      this.why = (error as Error).message;
    }
    this.busy = null;
  }

  private get key(): string {
    return `kerbe-look-${this.session.id}`;
  }
}
