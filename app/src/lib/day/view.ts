/** The plan of the day as the server tells it. Times are minutes from midnight of its first day. */
import type { Call, Cost, DayPlan, DayTask, Slot, Span } from '@kerbe/core/day';
import type { Planning, ShopHours } from '@kerbe/core/day/planning';

export interface DayJob {
  id: string;
  name: string;
  picture: string | null;
  planning: Planning;
  /** Boards cut since it is on the plan, and those still to be. */
  done: number;
  left: number;
  seconds: number | null;
  /** What one costs the shop; null while its time is not known. */
  cost: Cost | null;
  /** Why it has no place. */
  why: string | null;
}

export interface CalledFor extends Omit<Call, 'task'> {
  moment: string;
  task: string;
}

export interface DayView extends Pick<DayPlan, 'late' | 'changes'> {
  /** Its first day, as 2026-11-30. */
  first: string;
  now: number;
  hours: ShopHours;
  open: Span[];
  machines: { id: string; name: string; watched: boolean; now: { name: string; job: string; from: number; to: number } | null }[];
  slots: Slot[];
  /** Taken as they came, for comparison. */
  asCame: { late: number; changes: number };
  jobs: DayJob[];
  bits: { bit: string; first: number; tasks: DayTask[] }[];
  /** What each bit is called. */
  names: Record<string, string>;
  pins: Record<string, string>;
  order: string[];
  calls: CalledFor[];
}

export const CALL_WORDS: Record<Call['what'], string> = { board: 'put the board on', bit: 'change the bit', off: 'take the board off' };

/** The time of day of a minute, as 14:05; with its day when that is another one. */
export function clock(minute: number, first?: string): string {
  const time = `${String(Math.floor((minute % 1440) / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}`;
  const days = Math.floor(minute / 1440);
  if (!first || days === 0) return time;
  const [year, month, day] = first.split('-').map(Number);
  return `${new Date(Date.UTC(year, month - 1, day + days)).toLocaleDateString('en-GB', { weekday: 'short', timeZone: 'UTC' })} ${time}`;
}

/** So many minutes in words, as 2 h 5 min. */
export const span = (minutes: number): string =>
  minutes < 60 ? `${minutes} min` : `${Math.floor(minutes / 60)} h${minutes % 60 ? ` ${minutes % 60} min` : ''}`;
