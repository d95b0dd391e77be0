import { addressOf } from '$lib/server/access';
import { formOf } from '$lib/server/body';
import { db } from '$lib/server/db';
import { done, faulty, formFor, formFrom, refused, refusedAt } from '$lib/server/form';
import { Crowded, verifyInTurn } from '$lib/server/passwords';
import { rename, setPassword } from '$lib/server/people';
import { endSession, hasEnded } from '$lib/server/sessions';
import { Tries } from '$lib/server/tries';
import { OwnName, PasswordChange } from '$lib/shop/people';
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
    name: await formFor(OwnName, { name: locals.user!.name }, 'name'),
    password: await formFor(PasswordChange, {}, 'password'),
    // Never the token: it is the key to the session.
    sessions: rows
      .filter(({ token }) => !hasEnded({ token, cookie: '' }))
      .map(({ id, token, createdAt, ipAddress, userAgent }) => ({ id, here: token === locals.session?.token, createdAt, ipAddress, userAgent })),
  };
};

const tries = new Tries();

export const actions: Actions = {
  name: async ({ request, locals }) => {
    const form = await formFrom(await formOf(request), OwnName);
    if (!form.valid) return faulty(form);
    const { name } = form.data;
    const why = await rename(locals.user!.id, name);
    return why ? refusedAt(form, 'name', why) : done(form, `You are called ${name} now. What is in the record keeps the old name.`);
  },
  password: async ({ request, locals }) => {
    const form = await formFrom(await formOf(request), PasswordChange);
    if (!form.valid) return faulty(form);
    const { id } = locals.user!;
    const wait = tries.begin(id, addressOf(request));
    if (wait > 0) return refused(form, `Too many wrong passwords. Try again in ${wait} seconds.`, 429);
    try {
      const row = await db().selectFrom('account').select('password').where('userId', '=', id).where('providerId', '=', 'credential').executeTakeFirst();
      if (!row?.password || !(await verifyInTurn({ hash: row.password, password: form.data.old })))
        return refusedAt(form, 'old', 'That is not the password you have.');
      tries.right(id, addressOf(request));
      const why = await setPassword(id, form.data.password, locals.session!.token);
      if (!why) locals.ended.push(`user:${id}`);
      return why ? refusedAt(form, 'password', why) : done(form, 'The password was changed. Other screens of yours are signed out.');
    } catch (error) {
      if (error instanceof Crowded) return refused(form, error.message, 503);
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
