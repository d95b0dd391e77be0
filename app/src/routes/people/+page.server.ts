import { error, fail } from '@sveltejs/kit';
import { z } from 'zod';
import { auth } from '$lib/server/auth';
import type { Actions, PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ locals, request }) => {
  if (locals.user?.role !== 'owner') error(403, 'Accounts are for the owner to make.');
  const { users } = await auth().api.listUsers({ query: { limit: 200, sortBy: 'name' }, headers: request.headers });
  return { people: users.map(({ id, name, email, role }) => ({ id, name, email, role: role ?? 'operator' })) };
};

const Person = z.object({
  name: z.string().trim().min(1, 'Type a name.').max(60, 'That name is too long.'),
  email: z.email('Type an e-mail address.'),
  role: z.enum(['owner', 'operator', 'watcher'], 'Choose what they do.'),
  password: z.string().min(10, 'A password has at least ten characters.').max(128, 'That password is too long.'),
});

export const actions: Actions = {
  default: async ({ request, locals }) => {
    if (locals.user?.role !== 'owner') return fail(403, { why: 'Accounts are for the owner to make.' });
    const parsed = Person.safeParse(Object.fromEntries(await request.formData()));
    if (!parsed.success) return fail(400, { why: parsed.error.issues.map(({ message }) => message).join(' ') });
    try {
      await auth().api.createUser({ body: parsed.data, headers: request.headers });
    } catch {
      return fail(400, { why: `There is an account for ${parsed.data.email} already.` });
    }
    return { made: parsed.data.name };
  },
};
