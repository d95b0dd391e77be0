import { crib } from '$lib/server/crib';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({ bits: await crib() });
