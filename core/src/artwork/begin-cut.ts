/** A cut as one would begin it: with the figures suggested for its bit, the board and the machine. */
import type { Bit } from '../bits/schema.ts';
import { chartedFigures } from '../bits/nozzle.ts';
import { bitsFor, kindNamed, kindOf, kindsOf } from '../cuts/index.ts';
import { suggestBeam } from '../feeds/beam.ts';
import { suggestFeeds } from '../feeds/index.ts';
import { boardThickness, Cut, type Job } from '../job/index.ts';
import type { LengthUnit } from '../length/index.ts';

const SIXTEENTH = 25.4 / 16;
/** A length as one would set it by hand, mm: to a hundredth of a millimetre, or to the nearest 1/16 in. */
export const neat = (mm: number, units: LengthUnit): number =>
  units === 'in' ? Math.max(1, Math.round(mm / SIXTEENTH)) * SIXTEENTH : Math.round(mm * 100) / 100;
/** A feed as one would set it, mm/min: whole inches a minute in an inch shop, never more than it was. */
const neatFeed = (feed: number, units: LengthUnit): number => (units === 'in' ? Math.max(1, Math.floor(feed / 25.4 + 1e-9)) * 25.4 : feed);
/** A depth, never more than it was: a bit that is overfed breaks. */
const neatDepth = (mm: number, units: LengthUnit): number => (units === 'in' && mm > SIXTEENTH ? Math.floor(mm / SIXTEENTH + 1e-9) * SIXTEENTH : mm);

type ForCut = Pick<Job, 'process' | 'board' | 'machine' | 'units' | 'cuts' | 'items'>;

/** What is suggested for a cut of that kind: by the cut chart on a torch, by energy or preset on a laser, by chip load or preset on a router. */
function suggested(cut: Cut, bit: Bit, { process, board, machine, units }: ForCut): Record<string, number | undefined> {
  const thickness = boardThickness(board);
  const definition = kindOf(cut);
  const down = neatFeed(cut.plunge, units);
  if (process === 'torch') {
    const { feed = 1000, ...charted } = chartedFigures(bit, thickness) as { feed?: number };
    return { plunge: down, ...charted, feed: neatFeed(feed, units), speed: 0 };
  }
  if (process === 'laser') {
    const advice = suggestBeam(bit, board.material, thickness, definition);
    if (!advice) return { plunge: down, speed: 0 };
    const { feed, power, passes, interval, linesPerMm, focus, kerf } = advice;
    // A third of the thickness below the surface to cut. (Common practice.)
    const below = focus ?? (definition.burns === 'through' ? neat(thickness / 3, units) : undefined);
    return { feed: neatFeed(feed, units), plunge: down, power, passes, interval, linesPerMm, kerf, focus: below, speed: 0 };
  }
  const { feed, plunge, speed, depthPerPass } = suggestFeeds(bit, board.material, machine, definition.clearingStep?.(cut, bit));
  return {
    feed: neatFeed(feed, units),
    plunge: neatFeed(plunge, units),
    speed,
    depthPerPass: neatDepth(Math.min(depthPerPass, thickness), units),
  };
}

/**
 * A new cut with what is suggested for it; figures its kind has not, or leaves open, stay out.
 * @param own what is set of it; what it works on, where nothing is said, is what its kind usually does
 * @param second the other bit, of a kind that has two halves
 */
export function beginCut(job: ForCut, bit: Bit, own: { kind: string; id: string } & Record<string, unknown>, second = bit): Cut {
  const { usualTarget: on, again, references = [] } = kindNamed(own.kind);
  const isTaken = Object.values(job.cuts).some((cut) => cut.kind === own.kind && cut.on === on);
  const holed = Object.values(job.items).some((item) => item.kind === 'holes' || (item.kind === 'ellipse' && item.width === item.height));
  const mates = references.filter(({ to, required }) => to === 'tool' && required).map(({ field }) => [field, second.id]);
  const given = { on, ...(isTaken && holed && again), ...Object.fromEntries(mates), ...own, tool: bit.id };
  const plain = Cut.parse(given);
  const figures = Object.entries(suggested(plain, bit, job)).filter(
    ([key, value]) => value !== undefined && (plain as unknown as Record<string, unknown>)[key] !== undefined,
  );
  const lengths = Object.entries(kindNamed(own.kind).begins?.(bit, job.board) ?? {}).map(([key, mm]) => [key, neat(mm as number, job.units)]);
  return Cut.parse({ ...Object.fromEntries([...figures, ...lengths]), ...given });
}

/** The cut with another bit: figures that were as suggested for the bit it had become those suggested for the new one; what somebody set stays. */
export function withBit(job: ForCut, cut: Cut, from: Bit, to: Bit): Cut {
  const other = { ...cut, tool: to.id };
  const was = suggested(cut, from, job);
  const follows = Object.entries(suggested(other, to, job)).filter(
    ([key, value]) => value !== undefined && (cut as unknown as Record<string, unknown>)[key] === was[key],
  );
  return { ...other, ...Object.fromEntries(follows) };
}

/**
 * A job as one would plan it today: its bits as they are in the crib now, and for each cut what is suggested for its bit,
 * by the shop's presets where it has some. What is drawn, depths and sides stay.
 * @param crib bits of the shop; what a job has that is not there stays as it is
 */
export function asOfToday(job: Job, crib: readonly Bit[]): Job {
  const now = (bit: Bit): Bit => {
    const own = crib.find(({ id, kind }) => id === bit.crib && kind === bit.kind);
    return own ? { ...own, id: bit.id, crib: own.id } : bit;
  };
  const tools = Object.fromEntries(Object.entries(job.tools).map(([id, bit]) => [id, now(bit)]));
  const cuts = Object.fromEntries(
    Object.entries(job.cuts).map(([id, cut]) => {
      const figures = Object.entries(suggested(cut, tools[cut.tool], job)).filter(
        ([key, value]) => value !== undefined && (cut as unknown as Record<string, unknown>)[key] !== undefined,
      );
      return [id, Cut.parse({ ...cut, ...Object.fromEntries(figures) })];
    }),
  );
  return { ...job, tools, cuts };
}

/** All cuts at a share of their feeds, going down too: as they are run when the feed is turned at the machine. */
export function turnFeeds({ cuts, units }: Pick<Job, 'cuts' | 'units'>, share: number): void {
  const step = units === 'in' ? 25.4 : 1;
  const turned = (feed: number) => Math.max(1, Math.round((feed * share) / step)) * step;
  for (const cut of Object.values(cuts)) {
    cut.feed = turned(cut.feed);
    cut.plunge = turned(cut.plunge);
  }
}

/** The cut that cuts the sign out along its outline, where none does yet and a bit for it is there. */
export function cutOutSign(job: Job): Cut | null {
  if (job.outline === null || Object.values(job.cuts).some(({ on }) => on === 'outline' || (Array.isArray(on) && on.includes(job.outline!)))) return null;
  const kind = kindsOf(job.process).find((one) => kindNamed(one).usualTarget === 'outline' || kindNamed(one).burns === 'through');
  const bits = kind ? bitsFor(kind, job.tools) : [];
  const bit = bits.find(({ fluteLength }) => fluteLength > boardThickness(job.board)) ?? bits[0];
  if (!kind || !bit) return null;
  let id = 'edge';
  for (let n = 2; job.cuts[id]; n++) id = `edge${n}`;
  return beginCut(job, bit, { kind, id, on: 'outline', name: 'Cut out the sign', ...(job.process === 'router' && { tabs: 4 }) });
}
