import { error, fail } from '@sveltejs/kit';
import { z } from 'zod';
import { formOf } from '$lib/server/body';
import { done, faulty, formFor, formFrom, refusedAt } from '$lib/server/form';
import { Crowded } from '$lib/server/passwords';
import { makePerson, people, removePerson, setPassword, setRole } from '$lib/server/people';
import { endSessionsOf } from '$lib/server/sessions';
import { NewPerson, RoleName } from '$lib/shop/people';
import type { Actions, PageServerLoad, RequestEvent } from './$types';

export const load: PageServerLoad = async ({ locals }) => {
  if (locals.user?.role !== 'owner') error(403, 'Accounts are for the owner to make.');
  return {
    people: (await people()).map(({ id, name, email, role }) => ({ id, name, email, role: role ?? 'watcher' })),
    me: locals.user.id,
    form: await formFor(NewPerson),
  };
};

const Who = z.object({ id: z.string().min(1).max(80), name: z.string().max(80).default('') });

/** Carries out a change of somebody's account; every answer names them. */
const on =
  <T>(
    schema: z.ZodType<T & z.infer<typeof Who>>,
    work: (what: T & z.infer<typeof Who>, event: RequestEvent) => Promise<string | null>,
    said: (name: string) => string,
  ) =>
  async (event: RequestEvent) => {
    const parsed = schema.safeParse(await formOf(event.request));
    if (!parsed.success) return fail(400, { why: parsed.error.issues.map(({ message }) => message).join(' ') });
    let why: string | null;
    try {
      why = await work(parsed.data, event);
    } catch (problem) {
      if (!(problem instanceof Crowded)) throw problem;
      why = problem.message;
    }
    if (why) return fail(409, { why });
    return { said: said(parsed.data.name) };
  };

export const actions: Actions = {
  make: async ({ request }) => {
    const form = await formFrom(await formOf(request), NewPerson);
    if (!form.valid) return faulty(form);
    const made = await makePerson(form.data);
    return 'why' in made ? refusedAt(form, made.field, made.why) : done(form, `${form.data.name} can sign in now.`);
  },
  role: on(
    Who.extend({ role: RoleName }),
    ({ id, role }) => setRole(id, role),
    (name) => `What ${name} does was changed.`,
  ),
  password: on(
    Who.extend({ password: z.string() }),
    async ({ id, password }, { locals }) => {
      const own = id === locals.user!.id;
      const why = await setPassword(id, password, own ? locals.session!.token : null);
      if (!why && !own) locals.ended.push(`user:${id}`);
      return why;
    },
    (name) => `${name} has another password, and is signed out everywhere.`,
  ),
  end: on(
    Who,
    async ({ id }, { locals }) => {
      await endSessionsOf(id, id === locals.user!.id ? locals.session!.token : null);
      if (id !== locals.user!.id) locals.ended.push(`user:${id}`);
      return null;
    },
    (name) => `${name} is signed out everywhere.`,
  ),
  remove: on(
    Who,
    async ({ id }, { locals }) => {
      const why = await removePerson(id);
      if (!why) locals.ended.push(`user:${id}`);
      return why;
    },
    (name) => `${name} is no longer in the shop. What they did stays in the record.`,
  ),
};
