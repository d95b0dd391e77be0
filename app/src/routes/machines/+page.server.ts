import { cares, spoilboards } from '$lib/server/care';
import { cribBits } from '$lib/server/crib';
import { machines } from '$lib/server/machines';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ depends }) => {
  depends('kerbe:machines');
  const [all, boards, due, bits] = await Promise.all([machines(), spoilboards(), cares(), cribBits()]);
  return { machines: all, spoilboards: boards, cares: due, bits };
};
