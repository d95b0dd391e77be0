import { redirect, type Handle, type HandleServerError, type RequestEvent, type ServerInit } from '@sveltejs/kit';
import { building } from '$app/environment';
import { followAgents } from '$lib/server/agents';
import { auth, migrateAuth, type Role } from '$lib/server/auth';
import { noteSkim } from '$lib/server/care';
import { connection, db, isUnreachable } from '$lib/server/db';
import { demoMode, fillDemo } from '$lib/server/demo';
import { fillMachines, settleLinks } from '$lib/server/machines';
import { refusedWrite, type Refusal } from '$lib/server/access';
import { log, requestId, trouble } from '$lib/server/log';
import { requestTook } from '$lib/server/metrics';
import { onDone } from '$lib/server/run-record';
import { alone, migrate } from '$lib/server/migrations';
import { hasEnded, knownLately, remember } from '$lib/server/sessions';
import { sessionOf, type Session } from './door/guests';

export const init: ServerInit = async () => {
  if (building) return;
  // Two that start at once on an empty database would both make it.
  await alone(connection().pool, async () => {
    await migrate(db());
    await migrateAuth();
    await fillMachines();
    if (demoMode()) await fillDemo();
  });
  await settleLinks().catch((error: Error) => trouble('agents', error));
  onDone(noteSkim);
  followAgents();
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
const text = (status: number, words: string, more: Record<string, string> = {}) =>
  new Response(words, { status, headers: { 'content-type': 'text/plain; charset=utf-8', ...more } });
/** Refused in the way whoever asks understands. */
const refused = (url: URL, { status, why }: Refusal) => (url.pathname.startsWith('/api/') ? Response.json({ why }, { status }) : text(status, why));

/** Whoever asks, by the session in the database. Throws when that cannot be reached. */
async function personOf(request: Request, session: Session | null): Promise<App.Locals['user']> {
  if (!session || hasEnded(session)) return null;
  const found = await auth().api.getSession({ headers: request.headers });
  if (!found || hasEnded(session)) return null;
  const { id, name, email, role } = found.user;
  const person = { id, name, email, role: (role ?? 'watcher') as Role };
  remember(session, person);
  return person;
}

/** Pages that nobody has to be signed in for. */
const OPEN = new Set(['/sign-in', '/first-owner']);
/** For whoever watches the installation. */
const WATCHED = new Set(['/health', '/metrics']);
/** A request that took longer is written down, seconds. */
const SLOW = 5;
/** What works while the database is away: the machine for whoever is known, and leaving. */
const DESPITE = /^\/api\/(machines\/(events|[^/]+\/(command|hold|stop|map|talk))|sign-out)$/;

async function answer({ event, resolve }: Parameters<Handle>[0], session: Session | null): Promise<Response> {
  const { request, url } = event;
  if (/%00/i.test(url.pathname + url.search)) return refused(url, { status: 400, why: 'There is a character in this address that is none.' });
  try {
    event.locals.user = await personOf(request, session);
  } catch (error) {
    if (!isUnreachable((error as Error).cause ?? error) && !isUnreachable(error))
      trouble('who asks could not be read', error, { request: event.locals.request });
    event.locals.unsure = true;
    // A machine must be held and stopped whatever the database does: who came in lately is still known here.
    if (DESPITE.test(url.pathname) && !hasEnded(session)) event.locals.user = knownLately(session);
  }
  if (event.locals.unsure && !event.locals.user && url.pathname !== '/api/sign-out')
    return url.pathname.startsWith('/api/') ? Response.json({ why: AWAY }, { status: 503 }) : text(503, AWAY, { 'retry-after': '3' });
  const why = refusedWrite(event);
  if (why && (why.status !== 401 || url.pathname.startsWith('/api/'))) {
    // Whoever still sends hears nothing before they are done.
    await request.arrayBuffer().catch(() => {});
    return refused(url, why);
  }
  if (!event.locals.user && !OPEN.has(url.pathname)) {
    if (/^\/api\/machines\/[^/]+\/told$/.test(url.pathname) || url.pathname === '/api/sign-out') return resolve(event);
    if (url.pathname.startsWith('/api/')) return Response.json({ why: 'Sign in first.' }, { status: 401 });
    redirect(303, `/sign-in?to=${encodeURIComponent(url.pathname)}`);
  }
  return resolve(event);
}

export const handle: Handle = async (input) => {
  const { event, resolve } = input;
  if (building) return resolve(event);
  event.locals.request = requestId(event.request);
  event.locals.user = null;
  event.locals.session = sessionOf(event.request.headers.get('cookie'));
  event.locals.ended = [];
  event.locals.unsure = false;
  const began = performance.now();
  // Whoever watches the installation is nobody of the shop, and asks while the database is away, too.
  const response = WATCHED.has(event.url.pathname) ? await resolve(event) : await answer(input, event.locals.session);
  const seconds = (performance.now() - began) / 1000;
  const { user } = event.locals as App.Locals;
  requestTook(event.route.id, event.request.method, response.status, seconds);
  if (response.status >= 500 || seconds > SLOW)
    log.warn(
      { request: event.locals.request, route: event.route.id, method: event.request.method, status: response.status, seconds, person: user?.id },
      response.status >= 500 ? 'request failed' : 'request was slow',
    );
  else log.debug({ request: event.locals.request, route: event.route.id, method: event.request.method, status: response.status, seconds }, 'request');
  response.headers.set('x-request-id', event.locals.request);
  response.headers.set('x-content-type-options', 'nosniff');
  response.headers.set('referrer-policy', 'same-origin');
  tellDoor(event, response);
  return response;
};

/** Tells the door whom it may take Hold and Stop from, and from whom no more. */
function tellDoor({ locals }: RequestEvent, response: Response): void {
  const { user, session, ended, unsure } = locals;
  // With the database away nobody is forgotten: the machine must be held and stopped all the same.
  if (session && !hasEnded(session) && (user || !unsure))
    response.headers.set('x-kerbe-person', user ? `${encodeURIComponent(user.id)} ${encodeURIComponent(user.name)}` : '');
  if (ended.length > 0) response.headers.set('x-kerbe-ended', ended.map((word) => word.split(':').map(encodeURIComponent).join(':')).join(' '));
}

export const handleError: HandleServerError = ({ error, status, event }) => {
  const { request } = event.locals;
  if (isUnreachable(error)) return { message: AWAY };
  if (status === 404) return { message: 'There is no such page.' };
  trouble('a page could not be made', error, { request, route: event.route.id });
  return { message: 'Something went wrong on our side. The details are in the server’s log.', request };
};
