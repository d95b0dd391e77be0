import { error } from '@sveltejs/kit';
import { formOf } from '$lib/server/body';
import { done, faulty, formFor, formFrom } from '$lib/server/form';
import { machines } from '$lib/server/machines';
import { keepShopSettings, shopSettings } from '$lib/server/shop';
import { formOfSettings, SettingsForm, settingsWith } from '$lib/shop/settings';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  if (locals.user?.role !== 'owner') error(403, 'The shop’s settings are for the owner to change.');
  const settings = await shopSettings();
  return {
    form: await formFor(SettingsForm, formOfSettings(settings)),
    materials: settings.materials,
    machines: (await machines()).map(({ id, name }) => ({ id, name })),
  };
};

export const actions: Actions = {
  default: async ({ request }) => {
    const now = await shopSettings();
    const form = await formFrom(await formOf(request), SettingsForm, formOfSettings(now));
    if (!form.valid) return faulty(form);
    await keepShopSettings(settingsWith(now, form.data));
    return done(form, 'Kept.');
  },
};
