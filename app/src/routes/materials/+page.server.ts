import { shopSettings } from '$lib/server/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const { leftovers } = await shopSettings();
  return { leftovers };
};
