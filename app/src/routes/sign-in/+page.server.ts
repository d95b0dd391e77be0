import { fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { addressOf } from '$lib/server/access';
import { auth } from '$lib/server/auth';
import { formOf } from '$lib/server/body';
import { DEMO_PEOPLE, demoMode, demoPassword } from '$lib/server/demo';
import { Crowded } from '$lib/server/passwords';
import { anybody } from '$lib/server/people';
import { Tries } from '$lib/server/tries';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
  if (locals.user) redirect(303, safe(url.searchParams.get('to')));
  return { demo: demoMode() ? DEMO_PEOPLE.map(({ role, name }) => ({ role, name })) : [], empty: !(await anybody()) };
};

/** Only paths of our own. */
const safe = (to: string | null) => (to && /^\/(?![/\\])/.test(to) ? to : '/');

const Form = z.object({ email: z.email().max(200), password: z.string().min(1).max(200) });
const tries = new Tries();

export const actions: Actions = {
  default: async ({ request, url }) => {
    const data = await formOf(request);
    const person = demoMode() ? DEMO_PEOPLE.find(({ role }) => role === data.demo) : undefined;
    const form = person ? { success: true as const, data: { email: person.email, password: demoPassword() } } : Form.safeParse(data);
    if (!form.success) return fail(400, { why: 'Type your e-mail address and password.' });
    const { email } = form.data;
    const address = addressOf(request);
    // The demo's buttons guess nothing.
    const wait = person ? 0 : tries.begin(email, address);
    if (wait > 0) return fail(429, { why: `Too many wrong passwords. Try again in ${wait < 90 ? `${wait} seconds` : `${Math.ceil(wait / 60)} minutes`}.` });
    try {
      await auth().api.signInEmail({ body: form.data, headers: request.headers });
    } catch (error) {
      if (error instanceof Crowded) return fail(503, { why: error.message });
      return fail(400, { why: 'That address and password do not belong together.' });
    }
    if (!person) tries.right(email, address);
    redirect(303, safe(url.searchParams.get('to')));
  },
};
