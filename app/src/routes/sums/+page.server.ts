import { shopSettings } from '$lib/server/shop';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({ units: (await shopSettings()).units });
