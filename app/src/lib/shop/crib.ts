/** Bits of the shop's crib, as jobs take them. */
import type { Bit } from '@kerbe/core/job';

/** A bit of the crib as one of a job, under a name that is free there. */
export function forJob(bit: Bit, tools: Readonly<Record<string, Bit>>): Bit {
  let id = bit.id;
  for (let n = 2; tools[id]; n++) id = `${bit.id}-${n}`;
  return { ...bit, id, crib: bit.id };
}
