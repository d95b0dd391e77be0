import type { Cost } from '@kerbe/core/day';
import type { Tile } from '@kerbe/core/job/tiles';
import type { ProgramSpan } from '@kerbe/core/program';
import type { Setup } from '@kerbe/core/link';
import type { MachineProfile } from '@kerbe/core/machine';

/** What the job page loads beside the document. */
export interface ReleaseView {
  id: string;
  revision: number;
  sha256: string;
  author: string;
  programs: {
    name: string;
    sha256: string;
    bits: string[];
    seconds: number;
    lines: number;
    extents: { min: [number, number, number]; max: [number, number, number] } | null;
    /** What of a sheet larger than the field it burns. */
    tile?: Tile;
    /** Does it turn the spindle? */
    spindle: boolean;
    /** Seconds a person's changes of bit in it take. */
    changes?: number;
  }[];
  report: { date: string; seconds: number; deepest: number };
}

export interface RunView {
  id: string;
  /** The version of the job that was released for it. */
  revision: number;
  program: string;
  state: string;
  message: string;
  line: number;
  lines: number;
  estimate_seconds: number;
  actual_seconds: number;
  author: string;
  notes: string;
  started_at: Date;
  ended_at: Date | null;
  machine: string;
  setup: Partial<Setup>;
  bit_seconds: Record<string, number>;
  /** How far each bit cut, m, and how often it was switched on; of runs before it was counted, nothing. */
  worked: Record<string, { metres: number; strikes: number }>;
  from_line: number | null;
  cut_last: ProgramSpan | null;
  defects: { kind: string; note: string; cause: string; by: string; at: string }[];
  /** For the owner: what it was to cost, and what it took. */
  costs: { planned: Cost; taken: Cost } | null;
}

/** A machine of the shop. */
export interface MachineView {
  id: string;
  name: string;
  /** Is Kerbe linked to it? */
  connected: boolean;
  profile: MachineProfile;
}
