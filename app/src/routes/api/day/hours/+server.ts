import { json } from '@sveltejs/kit';
import { ShopHours } from '@kerbe/core/day/planning';
import { tryJsonOf } from '$lib/server/body';
import { dayAt } from '$lib/server/day';
import { keepShopSettings, shopSettings } from '$lib/server/shop';
import type { RequestHandler } from './$types';

/** When somebody is in, and how many. */
export const PUT: RequestHandler = async ({ request }) => {
  const hours = await tryJsonOf(request, ShopHours);
  if (!hours.success) return json({ why: hours.error.issues.map(({ message }) => message).join(' ') }, { status: 400 });
  if (hours.data.to <= hours.data.from) return json({ why: 'The shop closes after it opens.' }, { status: 400 });
  await keepShopSettings({ ...(await shopSettings()), hours: hours.data });
  return json(await dayAt(new Date()));
};
