import { shopSettings } from '$lib/server/shop';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals }) => {
  if (!locals.user) return { user: null, units: 'mm' as const, inches: 0, materials: [], currency: '' };
  const { units, fraction, materials, currency } = await shopSettings();
  return { user: locals.user, units, inches: fraction, materials, currency };
};
