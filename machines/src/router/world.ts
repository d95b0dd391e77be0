/**
 * The world of the simulated router: a board of a real thickness somewhere on the bed, a bit
 * really fitted, a touch plate that may or may not lie where the program hopes. Heights are mm
 * above the spoilboard; bed coordinates are machine coordinates.
 */
import type { Bit } from '@kerbe/core/job';
import { heightAt, radiusAt, shapeOf } from '@kerbe/core/bits';
import { SCRATCH } from '@kerbe/core/bits';
import { carve, HeightMap } from '@kerbe/core/proof';
import { placesAlong } from '../controller/head.ts';

export interface WorldSettings {
  board: { x: number; y: number; width: number; height: number; thickness: number } | null;
  /**
   * The bit in the collet and how far its tip stands below the nose, mm. A shank that is bottomed
   * creeps up when it cuts; one held too short comes out.
   */
  bit: { shape: Bit; stickOut: number; seating?: 'good' | 'bottomed' | 'short'; /** A probe pin of that shape: it must never turn. */ pin?: boolean } | null;
  /** Touch plate lying on the board: its thickness, and where its middle is; 30 mm square. */
  plate: { x: number; y: number; thickness: number } | null;
  /** Corner block on a corner of the board: its lips hang over the two edges, its top lies on the board. */
  block: { corner: Corner; size: number; lip: number; thickness: number } | null;
  /** Clip of the touch plate's wire on the bit. */
  probeClip: boolean;
  /** What stands on the bed: middle and size, and how high above the spoilboard, mm. */
  clamps: { x: number; y: number; width: number; depth: number; height: number }[];
  lidOpen: boolean;
  vacuum: boolean;
  /** The board is held by nothing but vacuum. */
  vacuumHeld: boolean;
  dust: boolean;
  /** Location pins along the front and left edge stand up beside the board. */
  pinsUp: boolean;
  /** Switch of the spindle's own box. */
  spindlePower: boolean;
  /** Cell of the height map the world is carved on, mm. */
  cell: number;
}

/** A bare bed: no board, no bit, every switch as it is left at night. */
export const BARE: WorldSettings = {
  board: null,
  bit: null,
  plate: null,
  block: null,
  probeClip: false,
  clamps: [],
  lidOpen: false,
  vacuum: false,
  vacuumHeld: false,
  dust: false,
  pinsUp: false,
  spindlePower: true,
  cell: 0.25,
};

export type Corner = 'lower-left' | 'lower-right' | 'upper-left' | 'upper-right';

/** Height of location pins above the spoilboard, and how far they stand beside the board, mm. */
const PIN = { height: 25, beside: 4, radius: 5 };
/** How far a bottomed shank creeps up under load, mm. */
const CREEP = 1.5;

/** Height of the spindle nose above the spoilboard when Z is at the top, mm. */
export const NOSE_HEIGHT = 150;
/** The tool sensor: where it stands and how high its button is. */
export const SENSOR = { x: 40, y: 860, radius: 10, height: 50 };
const PLATE_HALF = 15;

export class World {
  settings: WorldSettings;
  map: HeightMap | null = null;
  /** Counts every change of the carved surface. */
  revision = 0;
  /** Counts every time a bit is put in or taken out. */
  fitting = 0;
  /** How far the machine really is from where it believes to be: lost steps, mm. */
  slip: [number, number, number] = [0, 0, 0];
  /** Set when the bit met wood it must not meet. */
  crash: string | null = null;

  constructor(settings: WorldSettings) {
    this.settings = settings;
    this.layBoard();
  }

  /** Puts a fresh board down, or takes it away. */
  layBoard(): void {
    const { board, cell } = this.settings;
    this.map = board ? new HeightMap(board.width, board.height, cell) : null;
    this.crash = null;
    this.revision++;
  }

  change(settings: Partial<WorldSettings>): void {
    this.settings = { ...this.settings, ...settings };
    if (settings.bit !== undefined) this.fitting++;
    if (settings.board !== undefined || settings.cell !== undefined) this.layBoard();
  }

  /** Height of the bit's tip above the spoilboard for a machine Z; of the nose without a bit. */
  tipHeight(machineZ: number): number {
    return NOSE_HEIGHT + machineZ + this.slip[2] - (this.settings.bit?.stickOut ?? 0);
  }

  /** Boxes that close the probe circuit: the plate, and the block with its lips. */
  private conductors(): { x0: number; y0: number; x1: number; y1: number; top: number }[] {
    const { plate, block, board } = this.settings;
    const top = board?.thickness ?? 0;
    const boxes = [];
    if (plate)
      boxes.push({
        x0: plate.x - PLATE_HALF,
        y0: plate.y - PLATE_HALF,
        x1: plate.x + PLATE_HALF,
        y1: plate.y + PLATE_HALF,
        top: this.woodUnder(plate.x, plate.y) + plate.thickness,
      });
    if (block && board) {
      const left = block.corner.endsWith('left');
      const front = block.corner.startsWith('lower');
      const span = (near: boolean, from: number, size: number) =>
        near ? [from - block.lip, from + block.size] : [from + size - block.size, from + size + block.lip];
      const [x0, x1] = span(left, board.x, board.width);
      const [y0, y1] = span(front, board.y, board.height);
      boxes.push({ x0, y0, x1, y1, top: top + block.thickness });
    }
    return boxes;
  }

  /**
   * Height at which the bit, its axis and Z at a machine position, touches something that closes
   * the probe circuit; null when it touches nothing. Wood closes no circuit.
   */
  touches(at: readonly number[]): number | null {
    const { bit } = this.settings;
    if (!bit) return null;
    const shape = shapeOf(bit.shape);
    const tip = this.tipHeight(at[2]);
    const [x, y] = [at[0] + this.slip[0], at[1] + this.slip[1]];
    if (Math.hypot(x - SENSOR.x, y - SENSOR.y) <= SENSOR.radius && tip <= SENSOR.height) return SENSOR.height;
    for (const { x0, y0, x1, y1, top } of this.conductors()) {
      const beside = Math.hypot(Math.max(x0 - x, 0, x - x1), Math.max(y0 - y, 0, y - y1));
      // The bit's own shape: its side, or its cone, meets the upper edge of the box.
      if (tip <= top && beside <= radiusAt(shape, top - tip)) return top - (beside > 0 ? heightAt(shape, beside) : 0);
    }
    return null;
  }

  /** Height of what lies under a place and closes no circuit. */
  ground(at: readonly number[]): number {
    return this.woodUnder(at[0] + this.slip[0], at[1] + this.slip[1]);
  }

  private woodUnder(x: number, y: number): number {
    const { board } = this.settings;
    const over = board && x >= board.x && y >= board.y && x <= board.x + board.width && y <= board.y + board.height;
    return over ? board.thickness : 0;
  }

  /** Moves the bit from one place to another (machine coordinates), cutting what it meets. */
  sweep(from: readonly number[], to: readonly number[], rapid: boolean, turning: boolean): void {
    const { board, bit } = this.settings;
    if (!bit) return;
    const low = Math.min(this.tipHeight(from[2]), this.tipHeight(to[2]));
    for (const at of placesAlong(from, to)) this.lookForObstacles(at, low);
    if (low > (board?.thickness ?? 0)) return;
    if (low < -12) this.crash ??= 'The bit went through the spoilboard into the bed.';
    if (!board || !this.map) return;
    const drag = bit.shape.kind === 'drag';
    // A diamond on its spring rides on the surface, however far it is pressed.
    const local = (p: readonly number[]) => {
      const z = this.tipHeight(p[2]) - board.thickness;
      return [p[0] + this.slip[0] - board.x, p[1] + this.slip[1] - board.y, drag ? Math.max(z, -SCRATCH) : z];
    };
    const a = local(from);
    const b = local(to);
    const before = this.deepestUnder(b[0], b[1]);
    const path = {
      kind: Uint8Array.of(1, 1),
      x: Float64Array.of(a[0], b[0]),
      y: Float64Array.of(a[1], b[1]),
      z: Float64Array.of(a[2], b[2]),
    };
    carve(this.map, path, shapeOf(bit.shape));
    this.revision++;
    const onBoard = b[0] >= 0 && b[1] >= 0 && b[0] <= board.width && b[1] <= board.height;
    // Straight up out of its own groove a bit meets no wood, whatever the cells of the map say of its slope.
    const retracting = a[0] === b[0] && a[1] === b[1] && b[2] >= a[2];
    const intoWood = onBoard && !retracting && (drag ? this.tipHeight(to[2]) < board.thickness : b[2] < before - 0.05);
    if (!intoWood) return;
    if (this.settings.vacuumHeld && !this.settings.vacuum) this.crash ??= 'The board moved under the bit: the vacuum is off.';
    if (bit.seating === 'short') this.crash ??= 'The bit came out of the collet: too little of its shank was held.';
    if (bit.seating === 'bottomed') this.settings = { ...this.settings, bit: { ...bit, stickOut: bit.stickOut - CREEP, seating: 'good' } };
    if (drag) {
      if (turning) this.crash ??= 'The drag diamond was pressed on the board with the spindle turning.';
    } else if (!turning) this.crash ??= 'The bit was pushed into the board while the spindle stood still.';
    else if (rapid && b[2] <= a[2] + 1e-9) this.crash ??= 'The bit went into the board at rapid speed.';
  }

  /** Clamps and location pins in the way of the bit. */
  private lookForObstacles(to: readonly number[], low: number): void {
    const { board, bit, clamps, pinsUp } = this.settings;
    const [x, y] = [to[0] + this.slip[0], to[1] + this.slip[1]];
    const reach = bit!.shape.diameter / 2;
    for (const clamp of clamps) {
      if (low >= clamp.height) continue;
      const beside = Math.hypot(Math.max(0, Math.abs(x - clamp.x) - clamp.width / 2), Math.max(0, Math.abs(y - clamp.y) - clamp.depth / 2));
      if (beside < reach) this.crash ??= 'The bit ran into a clamp.';
    }
    if (!pinsUp || !board || low >= PIN.height) return;
    for (const [px, py] of [
      [board.x - PIN.beside, board.y + board.height / 2],
      [board.x + board.width / 4, board.y - PIN.beside],
      [board.x + (3 * board.width) / 4, board.y - PIN.beside],
    ])
      if (Math.hypot(x - px, y - py) < reach + PIN.radius) this.crash ??= 'The bit ran into a location pin that was still up.';
  }

  /** Height of the surface at a point before it is cut, relative to the top. */
  private deepestUnder(x: number, y: number): number {
    return this.map?.at(x, y) ?? 0;
  }
}
