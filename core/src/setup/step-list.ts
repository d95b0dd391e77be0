/** A list of steps at a machine: what each of them is, and when it is done, skipped or stale. */
import type { Job } from '../job/index.ts';
import type { Tile } from '../job/tiles.ts';
import type { AgentSnapshot, Confirmation, SetFor } from '../link/index.ts';
import type { MachineProfile } from '../machine/index.ts';

export type StepId =
  | 'program'
  | 'answers'
  | 'home'
  | 'held'
  | 'push'
  | 'bare'
  | 'vacuum'
  | 'bit'
  | 'collet'
  | 'measure'
  | 'warm'
  | 'xy'
  | 'z'
  | 'flat'
  | 'place'
  | 'clear'
  | 'pins'
  | 'lid'
  | 'frame'
  | 'dust'
  | 'spindle'
  | 'person'
  | 'nozzle'
  | 'head'
  | 'key'
  | 'scale'
  | 'ground'
  | 'air'
  | 'water'
  | 'fire'
  | 'shade';

export interface Step {
  id: StepId;
  title: string;
  how: 'seen' | 'confirmed';
  done: boolean;
  /** Who went on without it. */
  skippedBy: string | null;
  skippable: boolean;
  /** What keeps it from being done, and what to do. */
  holds: string;
  /** What a confirmation of it is bound to. */
  key: string;
  /** It is done with the hands, and may be done with the emergency stop pressed. */
  byHand: boolean;
  /** A zero that was set for another job or on another day: it may be kept on purpose. */
  stale: boolean;
}

export interface StepInput {
  job: Job;
  profile: MachineProfile;
  /** The job's id: what is set for another one does not hold for it. */
  jobId: string;
  /** The released program with the bits of the run that will happen, or null before there is one. Extents from the datum, mm. */
  program: {
    sha256: string;
    bits: readonly string[];
    spindle: boolean;
    shallowest: number | null;
    extents: Extents | null;
    /** What of a sheet larger than the field it burns. */
    tile?: Tile;
  } | null;
  machine: AgentSnapshot & { agent: boolean };
  /** Milliseconds. */
  now: number;
  /** Is a moment (ISO) of today, where the machine stands? */
  isToday: (at: string) => boolean;
}

interface Extents {
  min: readonly [number, number, number];
  max: readonly [number, number, number];
}

export const CORNER_NAME: Record<string, string> = {
  'lower-left': 'front left corner',
  'lower-right': 'front right corner',
  'upper-left': 'back left corner',
  'upper-right': 'back right corner',
  centre: 'middle of the board',
};
/** Why a zero does not hold for this job today, or null. */
export function staleZero(zero: SetFor | null, jobId: string, isToday: StepInput['isToday'], skimmed?: string): string | null {
  if (!zero) return null;
  if (skimmed !== undefined && zero.at < skimmed) return 'The spoilboard was skimmed since: everything lies lower. Touch it again.';
  if (zero.job !== jobId) return 'It was set for another job. Touch it again, or say that it holds for this one.';
  if (!isToday(zero.at)) return 'It was set on another day. Touch it again, or say that it still holds.';
  return null;
}

/** Steps as they come up, one after the other. */
export class StepList {
  readonly steps: Step[] = [];
  private readonly input: StepInput;

  constructor(input: StepInput) {
    this.input = input;
  }

  private said(id: StepId, key: string): Confirmation | undefined {
    const { machine, isToday } = this.input;
    return machine.setup.confirmed.find((c) => c.id === id && c.key === key && isToday(c.at));
  }

  add(
    id: StepId,
    title: string,
    how: Step['how'],
    seen: boolean,
    holds: string,
    options: { key?: string; skip?: boolean; done?: boolean; stale?: boolean } = {},
  ): void {
    const key = options.key ?? this.input.program?.sha256 ?? '';
    const word = this.said(id, key);
    this.steps.push({
      id,
      title,
      how,
      done: options.done ?? (how === 'seen' ? seen : word !== undefined && !word.skipped),
      skippedBy: word?.skipped ? word.by : null,
      skippable: options.skip ?? how === 'confirmed',
      holds,
      key,
      byHand: id === 'bit' || id === 'collet',
      stale: options.stale ?? false,
    });
  }

  /** Seen when the machine shows it, else confirmed. */
  either(id: StepId, title: string, shown: boolean, holds: string): void {
    this.add(id, title, this.input.profile.shows ? 'seen' : 'confirmed', shown, holds, { skip: true });
  }
}

export const PRESSED = 'The emergency stop is pressed. Turn it to release it, then clear the alarm.';

/** Why a machine takes nothing: what is looked at first is what is forgotten most. */
export function whyNoAnswer({ agent, link, status, stopWanted }: Pick<AgentSnapshot, 'link' | 'status' | 'stopWanted'> & { agent: boolean }): string {
  if (!agent) return 'The machine agent does not answer. It is started together with Kerbe.';
  if (!link || !status) return 'The machine does not answer: check that it is on and its cable is in.';
  if (stopWanted) return 'Stop was pressed, and the machine has not confirmed it yet.';
  if (status.estop) return PRESSED;
  if (status.state === 'estop') return 'The emergency stop was pressed. It is released; clear the alarm.';
  if (status.state === 'alarm') return `The machine is in alarm: ${status.message}${/[.!?]$/.test(status.message) ? '' : '.'} Clear the alarm.`;
  return '';
}
