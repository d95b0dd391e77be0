/**
 * The head of a torch table: an arc that must be struck over grounded metal and needs its time to pierce, height
 * control by its voltage, touching by contact or by a float switch, and a torch that breaks away when it meets
 * something. All figures of the arc are invented, in the manner of a real one.
 */
import { readChart } from '@kerbe/core/bits/chart';
import { Bit } from '@kerbe/core/job';
import type { MachineStatus } from '@kerbe/core/link';
import { OP } from '@kerbe/core/program';
import { z } from 'zod';
import { placesAlong, type Head, type Switch } from '../controller/head.ts';
import { Plate, type Slats } from '../plate.ts';

export interface TorchWorld {
  /** The plate: its lower-left corner in machine coordinates, and its size. */
  board: { x: number; y: number; width: number; height: number; thickness: number; gone?: number[][] } | null;
  /** What is in the torch: how far its tip stands below the carriage, and how worn it is, 0 to 1. */
  bit: { shape: Bit; stickOut: number; worn?: number } | null;
  clamps: { x: number; y: number; width: number; depth: number; height: number }[];
  /** The work lead is clamped to the plate. */
  ground: boolean;
  air: boolean;
  /** Water in the table, or a fan under it. */
  water: boolean;
  /** How much the middle of the plate stands higher than its edges, mm. */
  warp: number;
  /** Travel of the float switch, mm; null: it feels by contact, and for that the plate must be grounded. */
  float: number | null;
  slats: Slats;
  /** Kerf that its controller moves off the line by itself, mm: half of it, to the left of the way, where the scrap is. 0: none. */
  kerf: number;
  /** Its controller waits by itself until the arc stands and is through. */
  arcOk: boolean;
  /** Of the grid the plate is burned on, mm. */
  cell: number;
}

export const BARE_TABLE: TorchWorld = {
  board: null,
  bit: null,
  clamps: [],
  ground: false,
  air: false,
  water: false,
  warp: 0,
  float: null,
  slats: { along: 'y', pitch: 100, first: 50, thick: 4 },
  kerf: 0,
  arcOk: false,
  cell: 0.5,
};

/** Height of the carriage above the slats when Z is at the top, mm. */
const CARRIAGE = 140;
/** It strikes within this height, and takes this long to; after so long it gives up. mm, seconds. */
const STRIKE = { within: 8, takes: 0.05, patience: 1.5 };
/** An arc that finds no metal within this of its middle goes out after so much of the way, mm. */
const REACH = { metal: 4, lostAfter: 6 };
/** Volts for each mm of height, and for an arc that all but stands instead of moving at the feed it was measured at. */
const VOLTS = { perMm: 8, standing: 18 };
/** Height control takes its measure so long after it was switched on, and follows with that delay, seconds. */
const CONTROL = { measures: 0.2, follows: 0.15 };
/** How far a tip may press on the plate before the torch breaks away, mm. */
const PRESSES = 0.3;
/** Half the width of the torch’s tip, mm. */
const TIP = 3;
/** Seconds the arc needs to get through a mm. */
const PIERCE = 0.035;
/** Share of its life that a pierce takes from a nozzle, and how much wider a worn one cuts. */
const WEAR = { pierce: 1 / 600, wider: 0.35 };

const place = z.number().min(-5000).max(5000);
const side = z.number().gt(0).max(3000);
const hands = z.strictObject({
  board: z
    .strictObject({
      x: place,
      y: place,
      width: side,
      height: side,
      thickness: z.number().gt(0).max(60),
      gone: z.array(z.array(z.number()).min(6).max(8_000)).max(500).optional(),
    })
    .nullable()
    .optional(),
  bit: z
    .strictObject({ shape: Bit, stickOut: z.number().gt(0).max(110), worn: z.number().min(0).max(1).optional() })
    .nullable()
    .optional(),
  clamps: z
    .array(z.strictObject({ x: place, y: place, width: side, depth: side, height: z.number().gt(0).max(150) }))
    .max(100)
    .optional(),
  ground: z.boolean().optional(),
  air: z.boolean().optional(),
  water: z.boolean().optional(),
  warp: z.number().min(-10).max(10).optional(),
  float: z.number().min(0).max(10).nullable().optional(),
  slats: z.strictObject({ along: z.enum(['x', 'y']), pitch: z.number().gt(1).max(500), first: place, thick: z.number().gt(0).max(50) }).optional(),
  kerf: z.number().min(0).max(10).optional(),
  arcOk: z.boolean().optional(),
  cell: z.number().min(0.05).max(5).optional(),
  /** What came free is taken off the table. */
  take: z.literal('pieces').optional(),
});

export class TorchHead implements Head {
  world: TorchWorld;
  plate: Plate | null = null;
  crash: string | null = null;
  slip: [number, number, number] = [0, 0, 0];
  readonly faults = { 'arc-lost': false, 'no-arc': false };
  readonly hands = { schema: hands, whileMoving: new Set(['ground', 'air', 'water', 'cell']) };
  /** Pierces made and seconds of arc since it was switched on. */
  pierces = 0;
  arcSeconds = 0;
  private revision = 0;
  private fitting = 0;
  private wanted = false;
  /** Seconds since the arc was asked for, and since it took hold; it is through after a while. */
  private asked = 0;
  private burning: number | null = null;
  private through = false;
  /** Way of the arc that met no metal, mm. */
  private empty = 0;
  private at: readonly number[] = [0, 0, 0];
  /** Feed it is carried at, mm/min. What is programmed, and not what a starved queue makes of it: a link that is too slow is no fault of the height. */
  private feed = 0;
  /** Height control: seconds since it was switched on, what it keeps to, and how far it has moved the torch. */
  private control: { on: number; volts: number; feed: number } | null = null;
  private correction = 0;

  constructor(world: TorchWorld) {
    this.world = world;
    this.layPlate();
  }

  private layPlate(): void {
    const { board, slats, cell } = this.world;
    // Slats are where the table has them: the plate is laid over them.
    const under = board && { ...slats, first: slats.first - (slats.along === 'y' ? board.x : board.y) };
    this.plate = board && new Plate(board.width, board.height, board.thickness, under!, cell, board.gone);
    this.revision++;
  }

  get on(): string | null {
    return this.wanted ? 'the arc is switched on' : null;
  }
  get live(): string | null {
    return this.burning !== null ? 'the arc burns' : null;
  }

  /** Looked at only where the controller knows of its arc. */
  get waited(): boolean {
    return this.world.arcOk && this.wanted && !this.through && this.crash === null;
  }

  /** Outputs are switched in step with the motion: it does not stop for them. */
  inMotion({ kind }: Switch): boolean {
    return kind === OP.OUTPUT;
  }

  refused({ kind, value }: Switch): string | null {
    if (kind !== OP.SPINDLE || value === 0) return null;
    if (!this.world.bit) return 'there is no nozzle in the torch';
    if ((this.world.bit.worn ?? 0) >= 1) return 'the nozzle is blown: fit another one before the arc is struck';
    return this.world.air ? null : 'there is no air pressure: the torch would ruin its nozzle';
  }

  act({ kind, value, output }: Switch): void {
    if (kind === OP.SPINDLE) {
      if (value === 0) return this.off();
      this.wanted = true;
      this.asked = this.empty = 0;
    } else if (kind === OP.OUTPUT && output === 1) this.control = value === 62 ? { on: 0, volts: NaN, feed: NaN } : null;
  }

  held(): null {
    this.off();
    return null;
  }

  begins(): boolean {
    return false;
  }

  off(): void {
    const burned = this.burning !== null;
    this.wanted = this.through = false;
    this.burning = this.control = null;
    this.correction = 0;
    if (burned && this.plate && this.plate.freed().length > 0) this.revision++;
  }
  kill(): void {
    this.off();
  }
  clear(): void {
    this.crash = null;
  }

  override(share: number): string | null {
    return share === 1 ? null : 'the current of a torch is set at its own box';
  }

  /** Where the tip is: mm from the plate's corner, and above the plate's top here. */
  private tip(at: readonly number[]): { x: number; y: number; over: number; on: boolean } {
    const { board } = this.world;
    const [x, y] = [at[0] + this.slip[0] - (board?.x ?? 0), at[1] + this.slip[1] - (board?.y ?? 0)];
    const on = board !== null && x >= 0 && y >= 0 && x <= board.width && y <= board.height;
    return { x, y, over: this.tipHeight(at[2]) + this.correction - (board?.thickness ?? 0) - (on ? this.bow(x, y) : 0), on };
  }
  private tipHeight(machineZ: number): number {
    return CARRIAGE + machineZ + this.slip[2] - (this.world.bit?.stickOut ?? 0);
  }
  private bow(x: number, y: number): number {
    const { board, warp } = this.world;
    return warp * Math.sin((Math.PI * x) / board!.width) * Math.sin((Math.PI * y) / board!.height);
  }

  /** Width of what the arc takes: the nozzle's chart, wider when it is worn. */
  get kerf(): number {
    const { bit, board } = this.world;
    if (!bit || !board || bit.shape.kind !== 'nozzle') return 1.5;
    return (readChart(bit.shape.chart, board.thickness)?.row.kerf ?? 1.5) * (1 + WEAR.wider * (bit.worn ?? 0));
  }

  /** What the nozzle's chart says of this plate: volts at a height. */
  private get charted(): { volts: number; height: number } {
    const { bit, board } = this.world;
    const row = bit?.shape.kind === 'nozzle' && board ? readChart(bit.shape.chart, board.thickness)?.row : undefined;
    return row ? { volts: row.volts, height: row.cutHeight } : { volts: 122, height: 1.5 };
  }

  /** What the arc has between nozzle and plate: by its height, the plate and how fast it moves; 0 while it does not burn. */
  get volts(): number {
    if (this.burning === null) return 0;
    const slow = this.control && this.control.feed > 0 ? Math.max(0, 1 - this.feed / this.control.feed) : 0;
    const { volts, height } = this.charted;
    return volts + VOLTS.perMm * (this.tip(this.at).over - height) + VOLTS.standing * slow;
  }

  advance(seconds: number): void {
    if (!this.wanted) return;
    const { ground, air } = this.world;
    const { x, y, over } = this.tip(this.at);
    if (this.burning === null) {
      this.asked += seconds;
      const takes = ground && air && !this.faults['no-arc'] && over <= STRIKE.within && this.plate?.metalWithin(x, y, REACH.metal);
      if (takes && this.asked >= STRIKE.takes) {
        this.burning = 0;
        this.pierces++;
        this.wear(WEAR.pierce);
      } else if (this.asked > STRIKE.patience) this.fail(whyNoArc(ground, over, this.plate !== null));
      return;
    }
    if (!ground || !air || this.faults['arc-lost'])
      return this.fail(ground ? (air ? 'The arc went out.' : 'The arc went out: the air is gone.') : 'The arc went out: the work lead has come off the plate.');
    this.burning += seconds;
    this.arcSeconds += seconds;
    if (!this.through && this.burning >= PIERCE * this.world.board!.thickness) {
      this.through = true;
      this.burnAt(x, y);
    }
    this.follow(seconds);
  }

  /** Height control: keeps the voltage it measured when it was switched on, whatever it comes from. */
  private follow(seconds: number): void {
    const { control } = this;
    if (!control) return;
    control.on += seconds;
    if (control.on < CONTROL.measures) return;
    if (Number.isNaN(control.volts)) {
      control.volts = this.volts;
      control.feed = this.feed;
      return;
    }
    this.correction += ((control.volts - this.volts) / VOLTS.perMm) * (1 - Math.exp(-seconds / CONTROL.follows));
  }

  private burnAt(x: number, y: number): boolean {
    const any = this.plate!.burn(x, y, this.kerf / 2);
    if (any) this.revision++;
    return any;
  }

  private wear(by: number): void {
    const { bit } = this.world;
    if (bit) this.world = { ...this.world, bit: { ...bit, worn: Math.min(1, (bit.worn ?? 0) + by) } };
  }

  private fail(why: string): void {
    this.off();
    this.crash ??= why;
  }

  sweep(from: readonly number[], to: readonly number[], _rapid: boolean, feed: number): void {
    const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
    this.at = to;
    this.feed = feed;
    if (!this.world.bit) return;
    const [a, b] = [this.tip(from), this.tip(to)];
    for (const at of placesAlong(from, to)) if (!this.crash) this.lookForObstacles(at, this.tip(at), length > 0);
    if (this.burning === null || length === 0) return;
    // Begun at the plate's edge nothing is pierced: the metal flows out at its side.
    if (!this.through && this.plate!.edgeWithin(a.x, a.y, this.kerf)) this.through = true;
    if (!this.through) {
      this.wear(1);
      return this.fail('The torch moved on before it was through the plate: metal blew back and the nozzle is spoiled.');
    }
    const aside = this.world.kerf / 2 / length;
    const [ox, oy] = [-aside * (b.y - a.y), aside * (b.x - a.x)];
    // In steps no longer than a cell, so that nothing is left standing between them.
    const steps = Math.max(1, Math.ceil(length / this.world.cell));
    for (let k = 1; k <= steps; k++) {
      const f = k / steps;
      const [x, y] = [a.x + f * (b.x - a.x) + ox, a.y + f * (b.y - a.y) + oy];
      this.burnAt(x, y);
      this.empty = this.plate!.metalWithin(x, y, REACH.metal) ? 0 : this.empty + length / steps;
    }
    if (this.empty > REACH.lostAfter) this.fail('The arc was lost: there is no metal under the torch.');
  }

  private lookForObstacles(at: readonly number[], { x, y, over, on }: { x: number; y: number; over: number; on: boolean }, along: boolean): void {
    if (on && this.plate) {
      // Straight up from the end of its own cut it clears what tips there.
      const raised = along ? this.plate.raisedAt(x, y, TIP) : 0;
      if (raised > 0 && over < raised) return this.fail('The torch met a piece that had tipped up, and broke away.');
      if (over < -PRESSES - (this.world.float ?? 0) && this.plate.metalWithin(x, y, 1)) return this.fail('The torch ran into the plate and broke away.');
    } else if (this.tipHeight(at[2]) < 0) this.fail('The torch ran into the slats and broke away.');
    const tip = this.tipHeight(at[2]);
    const meets = ({ x: cx, y: cy, width, depth, height }: TorchWorld['clamps'][number]) =>
      tip < height && Math.abs(at[0] + this.slip[0] - cx) < width / 2 + 10 && Math.abs(at[1] + this.slip[1] - cy) < depth / 2 + 10;
    if (this.world.clamps.some(meets)) this.fail('The torch ran into a clamp and broke away.');
  }

  touches(at: readonly number[]): number | null {
    const { float, ground } = this.world;
    if (float === null && !ground) return null;
    const { x, y, over, on } = this.tip(at);
    // What is quickly told first: it is asked at every step of a probing.
    if (!this.world.bit || !on || over > -(float ?? 0) || !this.plate!.metalWithin(x, y, 1)) return null;
    return at[2] - over - (float ?? 0);
  }

  presses(at: readonly number[]): boolean {
    const { x, y, over, on } = this.tip(at);
    return this.world.bit !== null && on && over < -(this.world.float ?? 0) - 1 && this.plate!.metalWithin(x, y, 1);
  }

  status(): Pick<MachineStatus, 'arc' | 'sensor' | 'world'> {
    const { board, bit, clamps, ground, air, water, kerf } = this.world;
    const { crash, revision, fitting, pierces } = this;
    const size = this.plate?.pieces.at(-1)?.size;
    const lying = (as: string) => this.plate?.pieces.filter(({ lies }) => lies === as).length ?? 0;
    return {
      arc: {
        wanted: this.wanted,
        burns: this.burning !== null,
        volts: Math.round(this.volts * 10) / 10,
        over: Math.round(this.tip(this.at).over * 100) / 100,
        heightControl: this.control !== null,
        pierces,
        seconds: Math.round(this.arcSeconds * 10) / 10,
      },
      sensor: null,
      world: {
        // Its openings are seen in the map.
        board: board && { x: board.x, y: board.y, width: board.width, height: board.height, thickness: board.thickness },
        bit: bit?.shape.id ?? null,
        clamps,
        fitting,
        crash,
        revision,
        table: {
          ground,
          air,
          water,
          worn: bit?.worn ?? 0,
          free: lying('free'),
          tipped: lying('tips'),
          fallen: lying('falls'),
          kerf,
          ...(size ? { last: size } : {}),
        },
      },
    };
  }

  map() {
    const { plate, revision } = this;
    return plate && { columns: plate.map.columns, rows: plate.map.rows, cell: plate.map.cell, revision, height: plate.map.height };
  }

  change(by: Record<string, unknown>): boolean {
    const { take, ...settings } = by as Partial<TorchWorld> & { take?: 'pieces' };
    if (take && this.plate) {
      this.plate.takePieces();
      this.revision++;
    }
    this.world = { ...this.world, ...settings };
    if (settings.bit !== undefined) this.fitting++;
    if (settings.board !== undefined || settings.cell !== undefined || settings.slats !== undefined) this.layPlate();
    return false;
  }
}

const whyNoArc = (ground: boolean, over: number, plate: boolean): string => {
  if (!ground) return 'The arc did not take hold: the work lead is not on the plate.';
  if (!plate || over > STRIKE.within) return 'The arc did not take hold: the plate is too far under the torch.';
  return 'The arc did not take hold: there is no metal under the torch, or the nozzle is done.';
};
