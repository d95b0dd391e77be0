import { redirect } from '@sveltejs/kit';
import { endSession } from '$lib/server/sessions';
import type { RequestHandler } from './$types';

/** Ends the session at once, whatever the database does: its row goes when that takes it. */
export const POST: RequestHandler = ({ locals, cookies }) => {
  if (locals.session) {
    endSession(locals.session.token);
    locals.ended.push(`session:${locals.session.token}`);
  }
  for (const { name } of cookies.getAll()) if (name.includes('better-auth.')) cookies.delete(name, { path: '/' });
  redirect(303, '/sign-in');
};
