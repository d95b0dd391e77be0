/** Bits that are dull, or soon will be. */
import { bitName } from '../bits/index.ts';
import { finding, type Finding } from '../findings/index.ts';
import type { Job } from '../job/index.ts';

/** What the shop knows of a bit's edge: hours since it was sharp, and how many it gives it; of a nozzle, pierces too. */
export interface Wear {
  hours: number;
  life: number | null;
  strikes?: number;
  strikesLife?: number | null;
}
/** From this share of its life on a bit is spoken of. */
const IN_GOOD_TIME = 0.8;

/** Bits of a job that are past their life, or soon will be. @param wear by their ids in the crib */
export function wearFindings(job: Job, wear: Readonly<Record<string, Wear>>): Finding[] {
  const used = new Set(Object.values(job.cuts).map(({ tool: bit }) => bit));
  return Object.values(job.tools)
    .filter(({ id }) => used.has(id))
    .flatMap((bit) => {
      const { hours = 0, life = null, strikes = 0, strikesLife = null } = (bit.crib !== undefined && wear[bit.crib]) || {};
      const name = bitName(bit, job.units);
      const found: Finding[] = [];
      if (life !== null && hours >= IN_GOOD_TIME * life) found.push(hours > life ? finding.bitWorn(name, hours, life) : finding.bitWearsOut(name, hours, life));
      if (strikesLife !== null && strikes >= IN_GOOD_TIME * strikesLife)
        found.push(strikes > strikesLife ? finding.nozzleWorn(name, strikes, strikesLife) : finding.nozzleWearsOut(name, strikes, strikesLife));
      return found;
    });
}
