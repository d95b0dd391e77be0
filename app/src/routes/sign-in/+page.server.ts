import { fail, redirect } from '@sveltejs/kit';
import { z } from 'zod';
import { auth } from '$lib/server/auth';
import { DEMO_PEOPLE, demoMode, demoPassword } from '$lib/server/demo';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = ({ locals, url }) => {
  if (locals.user) redirect(303, safe(url.searchParams.get('to')));
  return { demo: demoMode() ? DEMO_PEOPLE.map(({ role, name }) => ({ role, name })) : [] };
};

/** Only paths of our own. */
const safe = (to: string | null) => (to && /^\/(?![/\\])/.test(to) ? to : '/');

const Form = z.object({ email: z.email(), password: z.string().min(1) });

export const actions: Actions = {
  default: async ({ request, url }) => {
    const data = Object.fromEntries(await request.formData());
    const person = demoMode() ? DEMO_PEOPLE.find(({ role }) => role === data.demo) : undefined;
    const form = person ? { success: true as const, data: { email: person.email, password: demoPassword() } } : Form.safeParse(data);
    if (!form.success) return fail(400, { why: 'Type your e-mail address and password.' });
    try {
      await auth().api.signInEmail({ body: form.data, headers: request.headers });
    } catch {
      return fail(400, { why: 'That address and password do not belong together.' });
    }
    redirect(303, safe(url.searchParams.get('to')));
  },
};
