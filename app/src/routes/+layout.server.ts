import { shopSettings } from '$lib/server/shop';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals }) => {
  const { units, fraction } = locals.user ? await shopSettings() : { units: 'mm' as const, fraction: 0 };
  return { user: locals.user, units, inches: fraction };
};
