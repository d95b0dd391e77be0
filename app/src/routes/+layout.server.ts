import { shopSettings } from '$lib/server/shop';
import type { LayoutServerLoad } from './$types';

export const load: LayoutServerLoad = async ({ locals }) => ({ user: locals.user, inches: locals.user ? (await shopSettings()).fraction : 0 });
