/** The shop's bits, asked for once they are wanted. */
import type { Bit } from '@kerbe/core/job';
import { ask } from '$lib/ui/post';

/** Every bit of the crib, or why they cannot be had. */
export async function cribBits(): Promise<{ ok: true; value: Bit[] } | { ok: false; why: string }> {
  const answer = await ask<{ bits: { bit: Bit }[] }>('/api/bits');
  return answer.ok ? { ok: true, value: answer.value.bits.map(({ bit }) => bit) } : answer;
}

/** A bit of the crib as one of a job, under a name that is free there. */
export function forJob(bit: Bit, tools: Readonly<Record<string, Bit>>): Bit {
  let id = bit.id;
  for (let n = 2; tools[id]; n++) id = `${bit.id}-${n}`;
  return { ...bit, id, crib: bit.id };
}
