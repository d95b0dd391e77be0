/** What can come out wrong on a board, and what it most likely comes from. (Common practice.) */
import type { RunFacts, Setup, ZeroZ } from '../link/index.ts';
import { formatLength, type LengthUnit } from '../length/index.ts';

export const DEFECTS = [
  { kind: 'too-shallow', name: 'Too shallow' },
  { kind: 'too-deep', name: 'Too deep' },
  { kind: 'uneven', name: 'Deep here, faint there' },
  { kind: 'burned', name: 'Burned edges' },
  { kind: 'fuzzy', name: 'Fuzzy edges' },
  { kind: 'chipped', name: 'Chipped edges' },
  { kind: 'moved', name: 'The board moved' },
  { kind: 'off-place', name: 'In the wrong place' },
  { kind: 'ridges', name: 'Ridges on the floor' },
  { kind: 'broken-bit', name: 'A bit broke' },
] as const;
export type DefectKind = (typeof DEFECTS)[number]['kind'];

export interface RunTrace {
  setup: Partial<Setup>;
  events: readonly { event: string; facts: RunFacts | null }[];
}

/** How Z zero was set, as the record says it. */
export const zeroZWords = ({ method, deeper = 0 }: Pick<ZeroZ, 'method' | 'deeper'>, unit: LengthUnit): string =>
  deeper === 0 ? method : `${method}, ${formatLength(Math.abs(deeper), { unit })} ${deeper > 0 ? 'deeper' : 'higher'}`;

/** The likeliest cause, from what the record of the run shows; what it does not show is said as a question to look into. */
export function causeOf(kind: DefectKind, { setup, events }: RunTrace, unit: LengthUnit = 'mm'): string {
  const overrides = events.flatMap(({ facts }) => (facts?.kind === 'override' ? [facts] : []));
  const feeds = overrides.map(({ feed }) => Math.round(100 * feed));
  const spindles = overrides.map(({ spindle }) => Math.round(100 * spindle));
  const skipped = (id: string) => setup.confirmed?.some((word) => word.id === id && word.skipped) === true;
  const slow = events.some(({ facts }) => facts?.kind === 'spindle-slow');
  const lost = events.some(({ event }) => event === 'link-lost' || event === 'failed');
  const spread =
    setup.readings && setup.readings.length > 1 ? Math.max(...setup.readings.map((r) => r.height)) - Math.min(...setup.readings.map((r) => r.height)) : null;
  switch (kind) {
    case 'too-shallow':
    case 'too-deep': {
      if (skipped('collet')) return 'How the shank was held was not looked at: one that is bottomed creeps up, one held short comes down.';
      if (setup.zeroZ?.with === 'paper')
        return 'Z was set by hand with a paper: was its thickness right, and did the bit just grip it? Nudge Z by what is missing and run again.';
      if (setup.zeroZ?.deeper) return `Z was nudged (${zeroZWords(setup.zeroZ, unit)}). Was that meant for this board?`;
      return kind === 'too-shallow'
        ? 'Z0 lay higher than the board: is the plate’s thickness right, and was the board flat on the bed? Keep the zero, go deeper by what is missing, run again.'
        : 'Z0 lay lower than the board: is the plate’s thickness right, and was it clean underneath?';
    }
    case 'uneven':
      return spread !== null && !setup.follow
        ? `The board lay ${formatLength(spread, { unit })} uneven and the program did not follow it.`
        : 'The board did not lie flat, or was bowed: measure its height in four places, and let the program follow the surface.';
    case 'burned':
      if (Math.min(100, ...feeds) < 80)
        return `The feed was taken down to ${Math.min(...feeds)} %: the bit rubbed instead of cutting. Less spindle speed goes with less feed.`;
      if (Math.max(100, ...spindles) > 115) return `The spindle was taken up to ${Math.max(...spindles)} %: too fast for the feed.`;
      return 'Too slow a feed for the spindle’s speed, or a blunt bit: look at the chip load on Cuts, and at the bit.';
    case 'fuzzy':
      return 'A blunt bit, or the wrong way across the grain: look at the bit; a down-cut bit or a last pass in climb leaves a cleaner edge.';
    case 'chipped':
      if (Math.max(100, ...feeds) > 115) return `The feed was taken up to ${Math.max(...feeds)} %.`;
      return 'Too much at once, or an up-cut bit at the upper edge: less depth per pass, a down-cut or compression bit.';
    case 'moved':
      return skipped('held')
        ? 'That the board was fixed was not looked at before the start.'
        : 'What held the board was not enough for these cuts: more clamps or screws, or tabs before the part comes free.';
    case 'off-place':
      if (lost)
        return 'The run was interrupted: after an emergency stop or a lost step the machine may not stand where it believes. Home it, and touch zero again.';
      if (setup.zeroXY?.angle) return 'The job was turned by two marks: were they the marks that are drawn?';
      return `X and Y were set by: ${setup.zeroXY?.by ?? 'unknown'}. Was it the corner the program counts from, with the radius of the bit that touched?`;
    case 'ridges':
      return 'The step between passes is too wide for this bit, or the spindle does not stand square to the bed.';
    case 'broken-bit':
      if (slow) return 'The spindle turned slower than asked in this run: the chips were too thick.';
      return 'Too much feed or depth for its diameter, or it met a clamp or a screw: see where it broke.';
  }
}
