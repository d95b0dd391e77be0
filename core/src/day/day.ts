/** What the shop's day is made of. Times are whole minutes from midnight of the first day. */
export interface Span {
  from: number;
  to: number;
}

/** Work on a finished board: somebody's hands, then waiting, as for paint to dry. */
export interface FinishingStep {
  name: string;
  hands: number;
  waits: number;
}

/** One board to be cut. */
export interface DayTask {
  /** Of the job and of which copy of it. */
  id: string;
  job: string;
  name: string;
  machine: string;
  /** Running, changes of bit within it included. */
  minutes: number;
  /** In the order they are used. */
  bits: string[];
  /** When in the run somebody changes a bit. */
  calls: number[];
  /** Two boards of one name need no other holding down; two of one zero no other Z zero. */
  board: string;
  zero: string;
  /** When it must be ready, finishing included. */
  due: number | null;
  urgent: boolean;
  finishing: readonly FinishingStep[];
  /** A person put it there: not before. */
  notBefore: number;
  boardHere: boolean;
}

export interface DayMachine {
  id: string;
  name: string;
  /** It only runs while somebody stands by: a torch, a laser. */
  watched: boolean;
  /** What it runs now ends then. */
  free: number;
  fitted: string | null;
  board: string | null;
  zero: string | null;
  /** Before its first board of a day: warming up, a skim that is due. */
  morning: readonly { name: string; minutes: number }[];
}

export interface Day {
  now: number;
  /** When somebody is in, day after day, in order. */
  open: readonly Span[];
  /** How many are. */
  people: number;
  machines: readonly DayMachine[];
  /** In the order they came. */
  tasks: readonly DayTask[];
}

/** Why a board does not begin as soon as its machine is free. */
export type Waits = { for: 'bit'; bit: string; until: number } | { for: 'people'; until: number } | { for: 'morning'; until: number } | null;

export interface Slot {
  task: DayTask;
  /** From the first hand laid on to the end of the run. */
  from: number;
  runs: number;
  to: number;
  /** Ready, its finishing done. */
  ready: number;
  late: number;
  /** What is changed before it. */
  changes: ('bit' | 'board' | 'zero')[];
  morning: readonly { name: string; minutes: number }[];
  waits: Waits;
  /** It is longer than the shop is ever open: somebody has to stay. */
  tooLong: boolean;
}

export interface DayPlan {
  slots: Slot[];
  late: number;
  changes: number;
}

/** What a person does between two boards, minutes. (Common practice: a board off and another on, a Z zero, a bit fitted and measured.) */
export const HANDS = { load: 5, zero: 3, bit: 2 } as const;
