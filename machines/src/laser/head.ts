/**
 * The head of a laser: a beam that follows S and, in dynamic mode, the speed; focus by height, with a spot that widens
 * out of it; a lid, a key, air and extraction. The beam is dark at once when the motion is held or the lid opens,
 * whatever the program says. All figures are invented, in the manner of a real one.
 */
import { Bit, type Machine as MachineLimits } from '@kerbe/core/job';
import type { MachineStatus } from '@kerbe/core/link';
import { OP } from '@kerbe/core/program';
import { spotOutOfFocus } from '@kerbe/core/proof';
import { z } from 'zod';
import { placesAlong, type Head, type Switch } from '../controller/head.ts';
import { Sheet } from './sheet.ts';

export interface LaserWorld {
  /** The sheet: its lower-left corner in machine coordinates, its size, and what it is of. */
  board: { x: number; y: number; width: number; height: number; thickness: number; material?: string } | null;
  /** The head that is fitted, and how far it stands below the carriage, mm. */
  bit: { shape: Bit; stickOut: number } | null;
  clamps: { x: number; y: number; width: number; depth: number; height: number }[];
  lidOpen: boolean;
  key: boolean;
  air: boolean;
  extraction: boolean;
  pointer: boolean;
  /** What S means at full power, as its controller is set; null as in its profile. */
  fullPower: number | null;
  /** Between the word and the light, seconds. */
  delay: number;
  /** Of the grid the sheet is burned on, mm; null: as fine as its size allows. */
  cell: number | null;
}

export const BARE_BED: LaserWorld = {
  board: null,
  bit: null,
  clamps: [],
  lidOpen: false,
  key: false,
  air: false,
  extraction: false,
  pointer: true,
  fullPower: null,
  delay: 0,
  cell: null,
};

/** Height of the carriage above the honeycomb when Z is at the top, and of the focus under the head, mm. */
const CARRIAGE = 80;
const FOCUS = 5;
/** Rayleigh range of its beam, mm. */
const RAYLEIGH = 2;
/** A beam of so many watts that stands for so long, seconds, sets a sheet alight. */
const FLARE = { watts: 2, after: 0.4 };
/** Smoke that a joule makes, and how fast extraction or nothing clears it, seconds. */
const SMOKE = { perJoule: 1 / 400, cleared: 12, settles: 120 };
/** Cells of a sheet, about, and the finest and coarsest of them, mm. */
const GRID = { cells: 2.5e6, finest: 0.1, coarsest: 0.5 };

const place = z.number().min(-5000).max(5000);
const side = z.number().gt(0).max(3000);
const hands = z.strictObject({
  board: z
    .strictObject({ x: place, y: place, width: side, height: side, thickness: z.number().gt(0).max(60), material: z.string().max(80).optional() })
    .nullable()
    .optional(),
  /** The sheet pushed by so much, with all that is burned in it. */
  slide: z.strictObject({ x: place, y: place }).optional(),
  bit: z
    .strictObject({ shape: Bit, stickOut: z.number().gt(0).max(70) })
    .nullable()
    .optional(),
  clamps: z
    .array(z.strictObject({ x: place, y: place, width: side, depth: side, height: z.number().gt(0).max(150) }))
    .max(100)
    .optional(),
  lidOpen: z.boolean().optional(),
  key: z.boolean().optional(),
  air: z.boolean().optional(),
  extraction: z.boolean().optional(),
  pointer: z.boolean().optional(),
  fullPower: z.number().gt(0).max(1e6).nullable().optional(),
  delay: z.number().min(0).max(0.1).optional(),
  cell: z.number().min(0.02).max(5).nullable().optional(),
});

export class LaserHead implements Head {
  world: LaserWorld;
  sheet: Sheet | null = null;
  crash: string | null = null;
  slip: [number, number, number] = [0, 0, 0];
  readonly faults = { 'no-beam': false };
  readonly hands = { schema: hands, whileMoving: new Set(['lidOpen', 'air', 'extraction', 'pointer']) };
  /** What was asked for: S with its sign, as the reader gives it - above zero constant, below zero dynamic. */
  private asked = 0;
  private program = false;
  private share = 1;
  private smoke = 0;
  private revision = 0;
  private fitting = 0;
  private at: readonly number[] = [0, 0, 0];
  /** For how long it has stood while it shone, seconds. */
  private stood = 0;
  private readonly limits: MachineLimits;

  constructor(world: LaserWorld, limits: MachineLimits) {
    this.world = world;
    this.limits = limits;
    this.laySheet();
  }

  private laySheet(): void {
    const { board, cell } = this.world;
    const fits = (width: number, height: number) => Math.min(GRID.coarsest, Math.max(GRID.finest, Math.sqrt((width * height) / GRID.cells)));
    this.sheet = board && new Sheet(board.width, board.height, board.thickness, board.material ?? 'birch ply', cell ?? fits(board.width, board.height));
    this.revision++;
  }

  get on(): string | null {
    return this.asked !== 0 ? 'the beam is switched on' : null;
  }
  get live(): string | null {
    return this.power > 0 ? 'the beam shines' : null;
  }

  private get fullPower(): number {
    return this.world.fullPower ?? this.limits.fullPower ?? 1000;
  }

  /** Share of its full power that shines: none while the lid is open or the key is off, whatever is asked for. */
  private get power(): number {
    const { lidOpen, key, bit } = this.world;
    if (lidOpen || !key || !bit || this.faults['no-beam']) return 0;
    return Math.min(1, (Math.abs(this.asked) / this.fullPower) * this.share);
  }
  private get watts(): number {
    const { bit } = this.world;
    return bit?.shape.kind === 'head' ? bit.shape.watts : 0;
  }

  /** Power is switched in step with the motion: it does not stop for it. */
  inMotion({ kind }: Switch): boolean {
    return kind === OP.SPINDLE;
  }

  refused({ kind, value }: Switch, waits = false): string | null {
    if (kind !== OP.SPINDLE || value === 0) return null;
    if (!this.world.bit) return 'there is no head on the carriage';
    if (this.world.lidOpen && !waits) return 'the lid is open: the beam stays dark';
    if (!this.world.key) return 'its key is off: the beam stays dark';
    return Math.abs(value) > this.fullPower * 1.0001 ? `S${Math.abs(value)} is more than full power, which is S${this.fullPower} here` : null;
  }

  act({ kind, value }: Switch): void {
    if (kind === OP.SPINDLE) {
      this.asked = value;
      if (value === 0) this.lookForPieces();
    }
  }

  held(): Switch | null {
    const again = { kind: OP.SPINDLE, value: this.asked };
    this.asked = 0;
    return again;
  }

  begins(): boolean {
    this.program = true;
    return true;
  }

  off(): void {
    this.asked = 0;
    this.program = false;
    this.lookForPieces();
  }
  kill(): void {
    this.off();
  }
  clear(): void {
    this.crash = null;
  }

  override(share: number): string | null {
    if (!(share >= 0.5 && share <= 1.5)) return 'the power can be set from 50 to 150 %';
    this.share = share;
    return null;
  }

  private lookForPieces(): void {
    if (this.sheet && this.sheet.plate.freed().length > 0) this.revision++;
  }

  /** How high the focus is above the surface here, mm: below zero the head is too low. */
  private outOfFocus(machineZ: number): number {
    return this.tip(machineZ) - FOCUS - (this.world.board?.thickness ?? 0);
  }
  private tip(machineZ: number): number {
    return CARRIAGE + machineZ + this.slip[2] - (this.world.bit?.stickOut ?? 0);
  }

  advance(seconds: number): void {
    this.smoke *= Math.exp(-seconds / (this.world.extraction ? SMOKE.cleared : SMOKE.settles));
  }

  /** Constant power burns on where it stands; dynamic power is none there. A controller that has run out of lines is dark, too. */
  stands(seconds: number): void {
    const { x, y, on } = this.under(this.at);
    if (!on || this.asked <= 0 || this.power === 0) return;
    this.shine([x, y], [x, y], this.power * this.watts * seconds);
    this.stood += seconds;
    if (this.stood > FLARE.after && this.power * this.watts >= FLARE.watts) this.fail('The beam stood still and set the sheet alight.');
  }

  private under(at: readonly number[]): { x: number; y: number; on: boolean } {
    const { board } = this.world;
    const [x, y] = [at[0] + this.slip[0] - (board?.x ?? 0), at[1] + this.slip[1] - (board?.y ?? 0)];
    return { x, y, on: board !== null && x >= 0 && y >= 0 && x <= board.width && y <= board.height };
  }

  sweep(from: readonly number[], to: readonly number[], rapid: boolean, feed: number, seconds: number): void {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    this.at = to;
    this.stood = 0;
    for (const at of placesAlong(from, to)) if (!this.crash) this.lookForObstacles(at);
    const { power } = this;
    if (power === 0 || length === 0 || !this.sheet) return;
    // Dynamic power follows the speed: a millimetre takes the same at any speed.
    const joules = power * this.watts * (this.asked < 0 && !rapid ? (60 * length) / feed : seconds);
    const late = seconds > 0 ? this.world.delay / seconds : 0;
    const shifted = (at: readonly number[]) => {
      const { x, y } = this.under(at);
      return [x + late * (to[0] - from[0]), y + late * (to[1] - from[1])] as [number, number];
    };
    this.shine(shifted(from), shifted(to), joules);
  }

  private shine(a: [number, number], b: [number, number], joules: number): void {
    const { bit } = this.world;
    if (!this.sheet || bit?.shape.kind !== 'head') return;
    this.sheet.shine(a, b, joules, spotOutOfFocus(bit.shape.diameter, this.outOfFocus(this.at[2]), RAYLEIGH));
    this.smoke = Math.min(1, this.smoke + joules * SMOKE.perJoule * (this.world.extraction ? 0.2 : 1));
    this.revision++;
  }

  private fail(why: string): void {
    this.off();
    this.crash ??= why;
  }

  private lookForObstacles(at: readonly number[]): void {
    if (!this.world.bit) return;
    const tip = this.tip(at[2]);
    const { on } = this.under(at);
    if (tip < (on ? (this.world.board?.thickness ?? 0) : 0)) return this.fail(on ? 'The head ran into the sheet.' : 'The head ran into the honeycomb.');
    const meets = ({ x, y, width, depth, height }: LaserWorld['clamps'][number]) =>
      tip < height && Math.abs(at[0] + this.slip[0] - x) < width / 2 + 10 && Math.abs(at[1] + this.slip[1] - y) < depth / 2 + 10;
    if (this.world.clamps.some(meets)) this.fail('The head ran into what holds the sheet.');
  }

  /** The distance sensor: closes where the surface is in focus. */
  touches(at: readonly number[]): number | null {
    const out = this.outOfFocus(at[2]);
    return this.world.bit && this.under(at).on && out <= 0 ? at[2] - out : null;
  }
  presses(): boolean {
    return false;
  }

  status(): Pick<MachineStatus, 'beam' | 'sensor' | 'world'> {
    const { board, bit, clamps, lidOpen, key, air, extraction, pointer } = this.world;
    const { crash, revision, fitting, smoke, sheet } = this;
    const here = this.under(this.at);
    return {
      beam: {
        wanted: this.asked !== 0,
        power: Math.round(this.power * 1000) / 1000,
        constant: this.asked > 0,
        out: bit && here.on ? Math.round(this.outOfFocus(this.at[2]) * 100) / 100 : null,
        pointer: pointer && key,
        // What S means full power, as its controller is set.
        full: this.fullPower,
      },
      sensor: null,
      world: {
        board: board && {
          x: board.x,
          y: board.y,
          width: board.width,
          height: board.height,
          thickness: board.thickness,
          ...(board.material ? { material: board.material } : {}),
        },
        bit: bit?.shape.id ?? null,
        clamps,
        lidOpen,
        fitting,
        crash,
        revision,
        cabinet: {
          key,
          air,
          extraction,
          smoke: Math.round(smoke * 100) / 100,
          free: sheet?.plate.pieces.length ?? 0,
          late: sheet?.late ?? false,
          marked: sheet?.marked ?? false,
        },
      },
    };
  }

  map() {
    if (!this.sheet) return null;
    const { columns, rows, cell, height } = this.sheet.plate.map;
    return { columns, rows, cell, revision: this.revision, height };
  }

  change(by: Record<string, unknown>): boolean {
    const { slide, ...settings } = by as Partial<LaserWorld> & { slide?: { x: number; y: number } };
    this.world = { ...this.world, ...settings };
    const { board } = this.world;
    if (slide && board) this.world.board = { ...board, x: board.x + slide.x, y: board.y + slide.y };
    if (settings.bit !== undefined) this.fitting++;
    if (settings.board !== undefined || settings.cell !== undefined) this.laySheet();
    return settings.lidOpen === true && this.program;
  }
}
