import { redirect } from '@sveltejs/kit';
import { addressOf } from '$lib/server/access';
import { auth } from '$lib/server/auth';
import { formOf } from '$lib/server/body';
import { DEMO_PEOPLE, demoMode, demoPassword } from '$lib/server/demo';
import { faulty, formFor, formFrom, refused } from '$lib/server/form';
import { Crowded } from '$lib/server/passwords';
import { anybody } from '$lib/server/people';
import { Tries } from '$lib/server/tries';
import { SignIn } from '$lib/shop/people';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, url }) => {
  if (locals.user) redirect(303, safe(url.searchParams.get('to')));
  return {
    demo: demoMode() ? DEMO_PEOPLE.map(({ role, name }) => ({ role, name })) : [],
    empty: !(await anybody()),
    form: await formFor(SignIn),
  };
};

/** Only paths of our own. */
const safe = (to: string | null) => (to && /^\/(?![/\\])/.test(to) ? to : '/');

const tries = new Tries();

export const actions: Actions = {
  default: async ({ request, url }) => {
    const sent = await formOf(request);
    const form = await formFrom(sent, SignIn);
    const demo = demoMode() ? DEMO_PEOPLE.find(({ role }) => role === sent.demo) : undefined;
    if (!demo && !form.valid) return faulty(form);
    const { email, password } = demo ? { email: demo.email, password: demoPassword() } : form.data;
    const address = addressOf(request);
    // The demo's buttons guess nothing.
    const wait = demo ? 0 : tries.begin(email, address);
    if (wait > 0) return refused(form, `Too many wrong passwords. Try again in ${wait < 90 ? `${wait} seconds` : `${Math.ceil(wait / 60)} minutes`}.`, 429);
    try {
      await auth().api.signInEmail({ body: { email, password }, headers: request.headers });
    } catch (error) {
      if (error instanceof Crowded) return refused(form, error.message, 503);
      return refused(form, 'That address and password do not belong together.');
    }
    if (!demo) tries.right(email, address);
    redirect(303, safe(url.searchParams.get('to')));
  },
};
