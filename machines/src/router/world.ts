/**
 * The world of the simulated router: a board of a real thickness somewhere on the bed, a bit
 * really fitted, a touch plate that may or may not lie where the program hopes. Heights are mm
 * above the spoilboard; bed coordinates are machine coordinates.
 */
import type { Bit } from '@kerbe/core/job';
import { carve, HeightMap, shapeOf } from '@kerbe/core/proof';

export interface WorldSettings {
  board: { x: number; y: number; width: number; height: number; thickness: number } | null;
  /** The bit in the collet and how far its tip stands below the nose, mm. */
  bit: { shape: Bit; stickOut: number } | null;
  /** Touch plate lying on the board: its thickness, and where its middle is; 30 mm square. */
  plate: { x: number; y: number; thickness: number } | null;
  /** Clip of the touch plate's wire on the bit. */
  probeClip: boolean;
  /** Cell of the height map the world is carved on, mm. */
  cell: number;
}

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
    if (settings.board !== undefined || settings.cell !== undefined) this.layBoard();
  }

  /** Height of the bit's tip above the spoilboard for a machine Z; of the nose without a bit. */
  tipHeight(machineZ: number): number {
    return NOSE_HEIGHT + machineZ - (this.settings.bit?.stickOut ?? 0);
  }

  /** Height of a surface that closes the probe circuit under a point, or -Infinity. */
  probeSurface(x: number, y: number): number {
    const { plate, board, bit } = this.settings;
    if (!bit) return -Infinity;
    if (Math.hypot(x - SENSOR.x, y - SENSOR.y) <= SENSOR.radius) return SENSOR.height;
    if (plate && Math.abs(x - plate.x) <= PLATE_HALF && Math.abs(y - plate.y) <= PLATE_HALF) return (board ? board.thickness : 0) + plate.thickness;
    return -Infinity;
  }

  /** Moves the bit from one place to another (machine coordinates), cutting what it meets. */
  sweep(from: readonly number[], to: readonly number[], rapid: boolean, turning: boolean): void {
    const { board, bit } = this.settings;
    const low = Math.min(this.tipHeight(from[2]), this.tipHeight(to[2]));
    if (low > (board?.thickness ?? 0) || !bit) return;
    if (low < -12) this.crash ??= 'The bit went through the spoilboard into the bed.';
    if (!board || !this.map) return;
    const local = (p: readonly number[]) => [p[0] - board.x, p[1] - board.y, this.tipHeight(p[2]) - board.thickness];
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
    const intoWood = onBoard && b[2] < before - 0.05;
    if (!intoWood) return;
    if (!turning) this.crash ??= 'The bit was pushed into the board while the spindle stood still.';
    else if (rapid && b[2] <= a[2] + 1e-9) this.crash ??= 'The bit went into the board at rapid speed.';
  }

  /** Height of the surface at a point before it is cut, relative to the top. */
  private deepestUnder(x: number, y: number): number {
    return this.map?.at(x, y) ?? 0;
  }
}
