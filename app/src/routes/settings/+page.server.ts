import { fail, error } from '@sveltejs/kit';
import { formOf } from '$lib/server/body';
import { machines } from '$lib/server/machines';
import { keepShopSettings, shopSettings } from '$lib/server/shop';
import { ShopSettings } from '$lib/shop/settings';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  if (locals.user?.role !== 'owner') error(403, 'The shop’s settings are for the owner to change.');
  return { settings: await shopSettings(), machines: (await machines()).map(({ id, name }) => ({ id, name })) };
};

export const actions: Actions = {
  default: async ({ request }) => {
    const { logo, fraction, machine, presence, rateMachine, rateHands, rateAdded, ...form } = await formOf(request);
    const now = await shopSettings();
    const asked = ShopSettings.safeParse({
      ...now,
      ...form,
      fraction: Number(fraction),
      presence: Number(presence ?? now.presence),
      rates: { machine: Number(rateMachine ?? now.rates.machine), hands: Number(rateHands ?? now.rates.hands), added: Number(rateAdded ?? now.rates.added) },
      logo: logo || null,
      machine: machine || null,
    });
    if (!asked.success) return fail(400, { why: asked.error.issues.map(({ message }) => message).join(' ') });
    await keepShopSettings(asked.data);
    return { said: 'Kept.' };
  },
};
