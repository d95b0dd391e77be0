import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { tryJsonOf } from '$lib/server/body';
import { keepShopSettings, shopSettings } from '$lib/server/shop';
import { ShopSettings } from '$lib/shop/settings';
import type { RequestHandler } from './$types';

const { materials, leftovers } = ShopSettings.shape;
const Change = z.strictObject({ materials: materials.unwrap().optional(), leftovers: leftovers.unwrap().optional() });

/** Keeps what the shop says of materials, or its pieces that are left. No job changes by it. */
export const PUT: RequestHandler = async ({ request }) => {
  const change = await tryJsonOf(request, Change);
  if (!change.success) return json({ why: [...new Set(change.error.issues.map(({ message }) => message))].join(' ') }, { status: 400 });
  const names = change.data.materials?.map(({ name }) => name.toLowerCase()) ?? [];
  if (new Set(names).size < names.length) return json({ why: 'Two materials have one name.' }, { status: 400 });
  await keepShopSettings({ ...(await shopSettings()), ...change.data });
  return json({ why: null });
};
