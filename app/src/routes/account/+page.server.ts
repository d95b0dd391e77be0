import { fail } from '@sveltejs/kit';
import { z } from 'zod';
import { addressOf } from '$lib/server/access';
import { formOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import { Crowded, verifyInTurn } from '$lib/server/passwords';
import { Name, rename, setPassword } from '$lib/server/people';
import { endSession, hasEnded } from '$lib/server/sessions';
import { Tries } from '$lib/server/tries';
import type { Actions, PageServerLoad } from './$types';

const sessionsOf = (user: string) =>
  db()
    .selectFrom('session')
    .select(['id', 'token', 'createdAt', 'ipAddress', 'userAgent'])
    .where('userId', '=', user)
    .where('expiresAt', '>', new Date())
    .orderBy('createdAt', 'desc')
    .execute();

export const load: PageServerLoad = async ({ locals }) => {
  const rows = await sessionsOf(locals.user!.id);
  return {
    // Never the token: it is the key to the session.
    sessions: rows
      .filter(({ token }) => !hasEnded({ token, cookie: '' }))
      .map(({ id, token, createdAt, ipAddress, userAgent }) => ({ id, here: token === locals.session?.token, createdAt, ipAddress, userAgent })),
  };
};

const Change = z.object({ old: z.string().min(1, 'Type the password you have.').max(200), password: z.string() });
const tries = new Tries();

export const actions: Actions = {
  name: async ({ request, locals }) => {
    const parsed = Name.safeParse((await formOf(request)).name);
    if (!parsed.success) return fail(400, { why: parsed.error.issues.map(({ message }) => message).join(' ') });
    const why = await rename(locals.user!.id, parsed.data);
    return why ? fail(409, { why }) : { said: `You are called ${parsed.data} now. What is in the record keeps the old name.` };
  },
  password: async ({ request, locals }) => {
    const parsed = Change.safeParse(await formOf(request));
    if (!parsed.success) return fail(400, { why: parsed.error.issues.map(({ message }) => message).join(' ') });
    const { id } = locals.user!;
    const wait = tries.begin(id, addressOf(request));
    if (wait > 0) return fail(429, { why: `Too many wrong passwords. Try again in ${wait} seconds.` });
    try {
      const row = await db().selectFrom('account').select('password').where('userId', '=', id).where('providerId', '=', 'credential').executeTakeFirst();
      if (!row?.password || !(await verifyInTurn({ hash: row.password, password: parsed.data.old })))
        return fail(400, { why: 'That is not the password you have.' });
      tries.right(id, addressOf(request));
      const why = await setPassword(id, parsed.data.password, locals.session!.token);
      if (!why) locals.ended.push(`user:${id}`);
      return why ? fail(400, { why }) : { said: 'The password was changed. Other screens of yours are signed out.' };
    } catch (error) {
      if (error instanceof Crowded) return fail(503, { why: error.message });
      throw error;
    }
  },
  end: async ({ request, locals }) => {
    const { session } = await formOf(request);
    const rows = await sessionsOf(locals.user!.id);
    for (const { id, token } of rows)
      if (token !== locals.session?.token && (session === 'others' || session === id)) {
        endSession(token);
        locals.ended.push(`session:${token}`);
      }
    return { said: 'Signed out there.' };
  },
};
