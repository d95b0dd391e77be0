/** What a machine says of itself (docs/machine-link.md). Positions are mm. */

export type Triple = [number, number, number];

export type MachineMode = 'idle' | 'run' | 'hold' | 'pause' | 'home' | 'alarm' | 'estop';

/** The world of a simulated machine, as a person beside it would see it. */
export interface SimulatedWorld {
  /** The board, plate or sheet that lies there; a laser’s says what it is of. */
  board: { x: number; y: number; width: number; height: number; thickness: number; material?: string } | null;
  /** The bit or nozzle that is fitted. */
  bit: string | null;
  clamps: { x: number; y: number; width: number; depth: number; height: number }[];
  /** Counts every time a bit is put in or taken out. */
  fitting: number;
  crash: string | null;
  /** Counts every change of the worked surface. */
  revision: number;
  /** Of a router only: a probe pin is in the collet instead of a bit; what is used to touch; switches and pins. */
  pin?: boolean;
  plate?: { x: number; y: number; thickness: number } | null;
  probeClip?: boolean;
  block?: { corner: string; size: number; lip: number; thickness: number } | null;
  lidOpen?: boolean;
  vacuum?: boolean;
  dust?: boolean;
  pinsUp?: boolean;
  /**
   * Of a laser only: its key, air pump and extraction, smoke under the lid (0 to 1), pieces that came free, whether one of them was marked
   * after that, and whether a mark can be seen on the sheet.
   */
  cabinet?: { key: boolean; air: boolean; extraction: boolean; smoke: number; free: number; late: boolean; marked: boolean };
  /**
   * Of a torch table only: what is switched on, how worn its nozzle is (0 to 1), how the pieces that came free lie, the kerf its controller
   * moves off the line by itself, mm, and how wide and deep the piece is that came free last, mm.
   */
  table?: { ground: boolean; air: boolean; water: boolean; worn: number; free: number; tipped: number; fallen: number; kerf: number; last?: [number, number] };
}

/** What every machine says of itself, and what only some can say. */
export interface MachineStatus {
  state: MachineMode;
  homed: boolean;
  estop: boolean;
  /** Why it is in alarm, or what a pause asks for. */
  message: string;
  machine: Triple;
  work: Triple;
  offset: Triple;
  /** Which work offset is in force, as its word: G54 … */
  workOffset: string;
  /** Last line begun, last line finished, and lines waiting. */
  begun: number;
  done: number;
  queued: number;
  /** Number the next line must carry. */
  expected: number;
  /** mm/s along the path. */
  speed: number;
  /** Shares of the programmed feed and spindle speed. */
  override: { feed: number; spindle: number };
  /** Counts power-ons and resets; the lines are counted anew after each. */
  boot: number;
  /** What the lines are counted for, as the last restart named it. */
  tag: string;
  /** How often the motion ran dry, and when it last began to brake (milliseconds of its clock). */
  dry: number;
  brakedAt: number | null;
  /** Machine position of the last touch, or of the end of the way without one. */
  probe: { touched: boolean; position: Triple } | null;
  /** Where the tool sensor stands; null where there is none. */
  sensor: { x: number; y: number; radius: number; height: number } | null;
  travel: Triple;
  /** How much faster than the clock it runs. */
  rate: number;
  /** Seconds of its own time since it was switched on. Only of simulated machines: far above real time a busy computer lets them fall behind the wall's clock. */
  clock?: number;
  /** rev/min; power: the switch of its own box. Only of machines that turn something and say so. */
  spindle?: { target: number; actual: number; power: boolean };
  /**
   * Of a torch: whether an arc is asked for and burns, its volts, height of the tip over the plate where that is known (mm), whether
   * height control is on, and pierces and seconds of arc since it was switched on.
   */
  arc?: { wanted: boolean; burns: boolean; volts: number; over: number; heightControl: boolean; pierces: number; seconds: number };
  /**
   * Of a laser: whether power is asked for, the share of full power that shines now, whether it is constant, how far the surface is out
   * of focus where that is known (mm, above zero when the head is too high), and whether its pointer shines.
   */
  beam?: { wanted: boolean; power: number; constant: boolean; out: number | null; pointer: boolean; full?: number };
  /** What a person beside it would see: only simulated machines show it. */
  world?: SimulatedWorld;
}

/** What a machine answers with that rests at its corner and has been told nothing; a link that cannot know better starts from it. */
export const restingStatus = (): MachineStatus => ({
  state: 'idle',
  homed: false,
  estop: false,
  message: '',
  machine: [0, 0, 0],
  work: [0, 0, 0],
  offset: [0, 0, 0],
  workOffset: 'G54',
  begun: 0,
  done: 0,
  queued: 0,
  expected: 1,
  speed: 0,
  override: { feed: 1, spindle: 1 },
  boot: 1,
  tag: '',
  dry: 0,
  brakedAt: null,
  probe: null,
  sensor: null,
  travel: [0, 0, 0],
  rate: 1,
});

/** Does anything wait in the machine, move, turn or burn? Then Stop has something to stop. */
export const isAlive = ({ state, queued, spindle, arc, beam }: MachineStatus): boolean =>
  queued > 0 ||
  state === 'run' ||
  state === 'hold' ||
  state === 'home' ||
  state === 'pause' ||
  (spindle !== undefined && (spindle.target !== 0 || spindle.actual > 0)) ||
  (arc !== undefined && (arc.wanted || arc.burns)) ||
  beam?.wanted === true;
