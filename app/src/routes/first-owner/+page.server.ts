import { timingSafeEqual } from 'node:crypto';
import { error, redirect } from '@sveltejs/kit';
import { env } from '$env/dynamic/private';
import { auth } from '$lib/server/auth';
import { formOf } from '$lib/server/body';
import { faulty, formFor, formFrom, refusedAt } from '$lib/server/form';
import { anybody, makePerson } from '$lib/server/people';
import { FirstOwner } from '$lib/shop/people';
import type { Actions, PageServerLoad } from './$types';

/** The link works with the key of this installation, as long as there is nobody. */
async function check(url: URL): Promise<void> {
  const [given, wanted] = [url.searchParams.get('key') ?? '', env.KERBE_FIRST_OWNER ?? ''].map((text) => Buffer.from(text));
  const right = wanted.length > 0 && given.length === wanted.length && timingSafeEqual(given, wanted);
  if (!right || (await anybody())) error(404, 'This link does not work any more, or never did. Sign in, or ask the owner of the shop.');
}

export const load: PageServerLoad = async ({ url }) => {
  await check(url);
  return { form: await formFor(FirstOwner) };
};

/** Two who follow the link at once: one makes the account. */
let making: Promise<unknown> = Promise.resolve();

export const actions: Actions = {
  default: async ({ request, url }) => {
    const form = await formFrom(await formOf(request), FirstOwner);
    const { email, password } = form.data;
    const made = making.then(async () => {
      await check(url);
      return form.valid ? makePerson({ ...form.data, role: 'owner' }) : null;
    });
    making = made.catch(() => {});
    const result = await made;
    if (result === null) return faulty(form);
    if ('why' in result) return refusedAt(form, result.field === 'role' ? 'name' : result.field, result.why);
    await auth().api.signInEmail({ body: { email, password }, headers: request.headers });
    redirect(303, '/');
  },
};
