import { timingSafeEqual } from 'node:crypto';
import { error, fail, redirect } from '@sveltejs/kit';
import { env } from '$env/dynamic/private';
import { auth } from '$lib/server/auth';
import { formOf } from '$lib/server/body';
import { anybody, makePerson, NewPerson } from '$lib/server/people';
import type { Actions, PageServerLoad } from './$types';

/** The link works with the key of this installation, as long as there is nobody. */
async function check(url: URL): Promise<void> {
  const [given, wanted] = [url.searchParams.get('key') ?? '', env.KERBE_FIRST_OWNER ?? ''].map((text) => Buffer.from(text));
  const right = wanted.length > 0 && given.length === wanted.length && timingSafeEqual(given, wanted);
  if (!right || (await anybody())) error(404, 'This link does not work any more, or never did. Sign in, or ask the owner of the shop.');
}

export const load: PageServerLoad = async ({ url }) => check(url);

/** Two who follow the link at once: one makes the account. */
let making: Promise<unknown> = Promise.resolve();

export const actions: Actions = {
  default: async ({ request, url }) => {
    const data = await formOf(request);
    const made = making.then(async () => {
      await check(url);
      const parsed = NewPerson.safeParse({ ...data, role: 'owner' });
      if (!parsed.success) return { why: parsed.error.issues.map(({ message }) => message).join(' ') };
      return makePerson(parsed.data);
    });
    making = made.catch(() => {});
    const result = await made;
    if ('why' in result) return fail(400, { why: result.why });
    await auth().api.signInEmail({ body: { email: String(data.email), password: String(data.password) }, headers: request.headers });
    redirect(303, '/');
  },
};
