import { redirect, type Handle, type HandleServerError, type ServerInit } from '@sveltejs/kit';
import { svelteKitHandler } from 'better-auth/svelte-kit';
import { building } from '$app/environment';
import { follow } from '$lib/server/agent';
import { auth, migrateAuth, type Role } from '$lib/server/auth';
import { connection, db, isUnreachable } from '$lib/server/db';
import { demoMode, fillDemo } from '$lib/server/demo';
import { fillMachines } from '$lib/server/machines';
import { refusedWrite } from '$lib/server/access';
import { migrate } from '$lib/server/migrations';

export const init: ServerInit = async () => {
  if (building) return;
  await migrate(db());
  await migrateAuth();
  await fillMachines();
  if (demoMode()) await fillDemo();
  follow();
  // Requests have ended by now: let the database go and leave; the stream from the agent would keep us.
  process.on(
    'sveltekit:shutdown',
    () =>
      void connection()
        .pool.end()
        .finally(() => process.exit(0)),
  );
};

const AWAY = 'The database does not answer just now. Nothing is lost: what you changed is kept in this browser and saved when it is back.';

/** People who came in lately, by their cookie: for the machine's sake while the database is away. */
const lately = new Map<string, { user: NonNullable<App.Locals['user']>; at: number }>();
const LATELY = 12 * 3600e3;
function remember(request: Request, user: NonNullable<App.Locals['user']>): void {
  const cookie = request.headers.get('cookie');
  if (!cookie) return;
  lately.delete(cookie);
  lately.set(cookie, { user, at: Date.now() });
  if (lately.size > 500) lately.delete(lately.keys().next().value!);
}
function knownOf(request: Request): App.Locals['user'] {
  const known = lately.get(request.headers.get('cookie') ?? '');
  return known && Date.now() - known.at < LATELY ? known.user : null;
}

export const handle: Handle = async ({ event, resolve }) => {
  if (building) return resolve(event);
  const { request, url } = event;
  event.locals.user = null;
  // Commands and changes come from our own pages only.
  if (request.method !== 'GET' && request.method !== 'HEAD') {
    const origin = request.headers.get('origin');
    if (origin !== null && origin !== url.origin) return new Response('Requests from other sites are refused.', { status: 403 });
  }
  try {
    const session = await auth().api.getSession({ headers: request.headers });
    if (session) {
      const { id, name, email, role } = session.user;
      event.locals.user = { id, name, email, role: (role ?? 'operator') as Role };
      remember(request, event.locals.user);
    }
  } catch (error) {
    if (!isUnreachable((error as Error).cause ?? error) && !isUnreachable(error)) console.error(error);
    // A machine must be held and stopped whatever the database does: who came in lately is still known here.
    const known = url.pathname.startsWith('/api/machine') ? knownOf(request) : null;
    if (known) {
      event.locals.user = known;
      const why = refusedWrite(event.route.id, request.method, known.role);
      return why ? Response.json({ why }, { status: 403 }) : resolve(event);
    }
    if (url.pathname.startsWith('/api/')) return Response.json({ why: AWAY }, { status: 503 });
    return new Response(AWAY, { status: 503, headers: { 'content-type': 'text/plain; charset=utf-8', 'retry-after': '3' } });
  }
  const open = url.pathname === '/sign-in' || url.pathname.startsWith('/api/auth/');
  if (!event.locals.user && !open) {
    if (url.pathname.startsWith('/api/')) return Response.json({ why: 'Sign in first.' }, { status: 401 });
    redirect(303, `/sign-in?to=${encodeURIComponent(url.pathname)}`);
  }
  if (!url.pathname.startsWith('/api/auth/')) {
    const why = refusedWrite(event.route.id, request.method, event.locals.user?.role ?? null);
    if (why && url.pathname.startsWith('/api/')) return Response.json({ why }, { status: 403 });
    if (why) return new Response(why, { status: 403, headers: { 'content-type': 'text/plain; charset=utf-8' } });
  }
  const response = await svelteKitHandler({ event, resolve, auth: auth(), building });
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  return response;
};

export const handleError: HandleServerError = ({ error, status }) => {
  if (isUnreachable(error)) return { message: AWAY };
  if (status !== 404) console.error(error);
  return { message: status === 404 ? 'There is no such page.' : 'Something went wrong on our side. The details are in the server’s log.' };
};
