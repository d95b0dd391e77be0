import { db } from '$lib/server/db';
import { machines } from '$lib/server/machines';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ depends }) => {
  depends('kerbe:machines');
  const skims = await db().selectFrom('spoilboard_skim').select(['machine_id', 'at', 'height', 'note', 'author']).orderBy('at', 'desc').execute();
  return { machines: await machines(), skims };
};
