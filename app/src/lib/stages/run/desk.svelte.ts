/**
 * What is run next: which released program, from which line, with which bits. One answer for the
 * set-up, the bed, the run and the record; what was chosen lives with the agent, so that every
 * screen and every reload sees the same.
 */
import type { RunState } from '@kerbe/core/link';
import { bitsFrom, linesOf, type ProgramSpan } from '@kerbe/core/program';
import type { ReleaseView } from '$lib/stages/types';
import type { MachineLink } from '$lib/machine.svelte';

export type ReleasedProgram = ReleaseView['programs'][number];

/** The programs of a release that are run at the machine: one that pauses, or one for each bit, as the job says; of a sheet in tiles for each of them. */
export function runnable(release: ReleaseView | null, split: 'tool' | 'pauses'): ReleasedProgram[] {
  const all = release?.programs ?? [];
  const single = all.filter(({ bits }) => bits.length === 1);
  // Of a sheet in tiles every one has its program.
  const tiles = all.filter(({ tile }, k) => tile && all.findIndex((one) => one.tile?.index === tile.index) === k);
  if (tiles.length > 0) return split === 'tool' && single.length > 0 ? single : tiles;
  const parts = all.filter(({ bits }, k) => k > 0 && bits.length === 1);
  return split === 'tool' && parts.length > 0 ? parts : all.slice(0, 1);
}

export interface Choice {
  index: number;
  /** First line of the run, from 1. */
  from: number;
  /** It was chosen, and is not what just ran. */
  chosen: boolean;
}

/** Which of them is up: the one that runs, else the one that was chosen, else the one that ran last, else the first. */
export function choiceOf(programs: readonly { sha256: string }[], run: RunState | null, next: { sha256: string; from: number } | null): Choice {
  const at = (sha256: string | undefined) => programs.findIndex((one) => one.sha256 === sha256);
  const ran = at(run?.sha256);
  if (run && run.endedAt === null && ran >= 0) return { index: ran, from: 1, chosen: false };
  const wanted = at(next?.sha256);
  if (next && wanted >= 0) return { index: wanted, from: next.from, chosen: true };
  return { index: Math.max(0, ran), from: 1, chosen: false };
}

/** Corners or marks that are being taken at the machine, machine coordinates, and where they place the board. */
export interface Marking {
  points: readonly (readonly [number, number])[];
  origin: readonly [number, number] | null;
  angle: number;
}

export class RunDesk {
  private readonly machine: MachineLink;
  private readonly release: () => ReleaseView | null;
  private readonly split: () => 'tool' | 'pauses';
  /** Texts of released programs as they are kept, by their hashes: what will run, not what was planned here. */
  private texts = $state.raw<Record<string, { text: string; spans: ProgramSpan[] }>>({});
  private readonly asked = new Set<string>();
  /** Shown on the bed while it is done. */
  marking = $state.raw<Marking | null>(null);

  constructor(machine: MachineLink, release: () => ReleaseView | null, split: () => 'tool' | 'pauses') {
    this.machine = machine;
    this.release = release;
    this.split = split;
  }

  readonly programs = $derived.by(() => runnable(this.release(), this.split()));
  private readonly choice = $derived.by(() => choiceOf(this.programs, this.machine.now.run, this.machine.now.setup.next));

  get releaseId(): string | null {
    return this.release()?.id ?? null;
  }
  get index(): number {
    return this.choice.index;
  }
  get program(): ReleasedProgram | null {
    return this.programs[this.choice.index] ?? null;
  }
  /** The line the next run begins at. */
  get from(): number {
    return this.choice.from;
  }
  /** The run that is shown: under way, or ended and nothing chosen since. */
  get run(): RunState | null {
    const { run } = this.machine.now;
    if (!run || this.choice.chosen) return null;
    return run.sha256 === this.program?.sha256 ? run : null;
  }
  get active(): boolean {
    return this.run !== null && this.run.endedAt === null;
  }
  /** The last run of the program that is up, also when another was chosen since: how far it got. */
  get last(): RunState | null {
    const { run } = this.machine.now;
    return run && run.sha256 === this.program?.sha256 ? run : null;
  }
  /** A run of something else that is under way. */
  get other(): RunState | null {
    const { run } = this.machine.now;
    return run && run.endedAt === null && run.sha256 !== this.program?.sha256 ? run : null;
  }
  get text(): string | null {
    return this.program ? (this.texts[this.program.sha256]?.text ?? null) : null;
  }
  /** Which of its lines cut what; none while it is fetched, or of a release that does not say. */
  get spans(): readonly ProgramSpan[] {
    return this.program ? (this.texts[this.program.sha256]?.spans ?? []) : [];
  }
  readonly lines = $derived.by(() => (this.text === null ? [] : linesOf(this.text)));
  /** Bits of the run that will happen, the one to be fitted first. */
  readonly bits = $derived.by(() => {
    const { program, text, from } = this;
    if (!program) return [];
    if (from === 1) return program.bits;
    // Until its text is here nobody knows which bit is in at that line.
    return text === null ? [] : bitsFrom(text, from, program.bits);
  });

  /** Fetches the text of the program that is up, once. */
  fetchText(): void {
    const release = this.release();
    const { program } = this;
    if (!release || !program || this.asked.has(program.sha256)) return;
    const { sha256, name } = program;
    this.asked.add(sha256);
    const from = `/api/releases/${release.id}/${encodeURIComponent(name)}`;
    void Promise.all([fetch(from), fetch(`${from}/spans`)])
      .then(async ([program, spans]) => {
        if (!program.ok || !spans.ok) throw new Error(String(program.status));
        this.texts = { ...this.texts, [sha256]: { text: await program.text(), spans: (await spans.json()) as ProgramSpan[] } };
      })
      .catch(() => setTimeout(() => this.asked.delete(sha256), 2000));
  }

  /** Chooses what is run next. Resolves to why not, or null. */
  choose(index: number, from = 1, board: 'new' | 'same' = 'same'): Promise<string | null> {
    const { sha256 } = this.programs[index];
    return this.machine.send({ do: 'next', sha256, from, board });
  }
}
