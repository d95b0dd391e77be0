/** The head of a router: a spindle that takes its time, a bit in its collet, and the world it cuts in. */
import { Bit, type Machine as MachineLimits } from '@kerbe/core/job';
import type { MachineStatus } from '@kerbe/core/link';
import { OP } from '@kerbe/core/program';
import { z } from 'zod';
import type { Head, Switch } from '../controller/head.ts';
import { SENSOR, World, type WorldSettings } from './world.ts';

/** Below this it cuts nothing, rev/min. */
const CUTS = 100;
/** How much a bit may press into wood before a probing stops, mm. */
const PRESSES = 0.2;

const TURNS = 'the spindle is turning';

const position = z.number().min(-5000).max(5000);
const side = z.number().gt(0).max(3000);
const hands = z.strictObject({
  board: z
    .strictObject({ x: position, y: position, width: side, height: side, thickness: z.number().gt(0).max(120) })
    .nullable()
    .optional(),
  bit: z
    .strictObject({ shape: Bit, stickOut: z.number().gt(0).max(150), seating: z.enum(['good', 'bottomed', 'short']).optional(), pin: z.boolean().optional() })
    .nullable()
    .optional(),
  plate: z
    .strictObject({ x: position, y: position, thickness: z.number().gt(0).max(60) })
    .nullable()
    .optional(),
  block: z
    .strictObject({
      corner: z.enum(['lower-left', 'lower-right', 'upper-left', 'upper-right']),
      size: z.number().gt(5).max(200),
      lip: z.number().gt(0).max(60),
      thickness: z.number().gt(0).max(60),
    })
    .nullable()
    .optional(),
  probeClip: z.boolean().optional(),
  clamps: z
    .array(
      z.strictObject({ x: position, y: position, width: z.number().gt(0).max(2000), depth: z.number().gt(0).max(2000), height: z.number().gt(0).max(150) }),
    )
    .max(100)
    .optional(),
  lidOpen: z.boolean().optional(),
  vacuum: z.boolean().optional(),
  vacuumHeld: z.boolean().optional(),
  dust: z.boolean().optional(),
  pinsUp: z.boolean().optional(),
  spindlePower: z.boolean().optional(),
  cell: z.number().min(0.02).max(5).optional(),
});

export class RouterHead implements Head {
  readonly world: World;
  /** rev/min: what a line asked for, and what it turns. */
  target = 0;
  actual = 0;
  readonly faults = { 'slow-spindle': false, 'probe-wire': false };
  readonly hands = { schema: hands, whileMoving: new Set(['lidOpen', 'vacuum', 'dust', 'spindlePower', 'cell']) };
  private readonly limits: MachineLimits;
  private share = 1;

  constructor(world: World, limits: MachineLimits) {
    this.world = world;
    this.limits = limits;
  }

  get crash(): string | null {
    return this.world.crash;
  }
  get slip(): [number, number, number] {
    return this.world.slip;
  }
  set slip(slip: [number, number, number]) {
    this.world.slip = slip;
  }
  get on(): string | null {
    return this.target > 0 ? TURNS : null;
  }
  get live(): string | null {
    return this.actual > 0 ? TURNS : null;
  }

  refused({ kind, value }: Switch): string | null {
    if (kind !== OP.SPINDLE || value === 0) return null;
    if (value > this.limits.maxSpindle) return `the spindle turns ${this.limits.maxSpindle} rev/min at most`;
    const { probeClip, lidOpen, bit } = this.world.settings;
    if (bit?.pin) return 'a probe pin is in the collet: take it out before the spindle turns';
    if (probeClip) return 'the clip of the touch plate is still on the bit: take it off before the spindle turns';
    return lidOpen ? 'the lid is open: close it before the spindle turns' : null;
  }

  inMotion(): boolean {
    return false;
  }

  act({ kind, value }: Switch): void {
    if (kind === OP.SPINDLE) this.target = Math.abs(value);
  }

  /** A bit goes on turning where it stands. */
  held(): null {
    return null;
  }

  begins(): boolean {
    return false;
  }

  off(): void {
    this.target = 0;
  }
  kill(): void {
    this.target = this.actual = 0;
  }

  override(share: number): string | null {
    if (!(share >= 0.5 && share <= 1.5)) return 'the spindle can be set from 50 to 150 %';
    this.share = share;
    return null;
  }

  /** What it is to turn, with its override; never more than it can. */
  private get wanted(): number {
    return Math.min(this.limits.maxSpindle, this.target * this.share);
  }

  advance(seconds: number): void {
    const slope = this.limits.maxSpindle / Math.max(0.1, this.limits.spindleSeconds);
    const wanted = this.world.settings.spindlePower ? this.wanted * (this.faults['slow-spindle'] ? 0.6 : 1) : 0;
    const gap = wanted - this.actual;
    this.actual += Math.sign(gap) * Math.min(Math.abs(gap), slope * seconds);
  }

  sweep(from: readonly number[], to: readonly number[], rapid: boolean): void {
    this.world.sweep(from, to, rapid, this.actual > CUTS);
  }

  touches(at: readonly number[]): number | null {
    const surface = this.faults['probe-wire'] ? null : this.world.touches(at);
    return surface === null ? null : at[2] + surface - this.world.tipHeight(at[2]);
  }

  presses(at: readonly number[]): boolean {
    return this.world.settings.bit !== null && this.world.tipHeight(at[2]) < this.world.ground(at) - PRESSES;
  }

  clear(): void {
    this.world.crash = null;
  }

  status(): Pick<MachineStatus, 'spindle' | 'sensor' | 'world'> {
    const { settings, fitting, crash, revision } = this.world;
    const { bit, board, plate, block, probeClip, clamps, lidOpen, vacuum, dust, pinsUp } = settings;
    return {
      spindle: { target: Math.round(this.wanted), actual: Math.round(this.actual), power: settings.spindlePower },
      sensor: SENSOR,
      world: {
        board,
        bit: bit && !bit.pin ? bit.shape.id : null,
        pin: bit?.pin ?? false,
        plate,
        probeClip,
        block,
        clamps,
        lidOpen,
        vacuum,
        dust,
        pinsUp,
        fitting,
        crash,
        revision,
      },
    };
  }

  map() {
    const { map, revision } = this.world;
    return map && { columns: map.columns, rows: map.rows, cell: map.cell, revision, height: map.height };
  }

  change(by: Record<string, unknown>): boolean {
    const settings = by as Partial<WorldSettings>;
    this.world.change(settings);
    return settings.lidOpen === true && this.target > 0;
  }
}
