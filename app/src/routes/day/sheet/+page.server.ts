import { dayAt } from '$lib/server/day';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => ({ day: await dayAt(new Date()) });
