/// <reference types="@sveltejs/kit" />
/// <reference lib="webworker" />
/**
 * What lets an open job stay open without a network: the program of the page, kept by its version, and of each job that
 * was opened the last that was heard of it. Nothing about machines or runs is kept: what they do is shown live or not at all.
 */
import { build, files, version } from '$service-worker';

const worker = self as unknown as ServiceWorkerGlobalScope;
const PROGRAM = `kerbe-program-${version}`;
/** Of the person who is signed in: emptied when they sign out. */
const JOBS = 'kerbe-jobs';
const PROGRAM_FILES = new Set([...build, ...files]);
/** Jobs that are kept at most: the ones opened last. */
const MOST = 30;
/** The page of every job is the same; what is in it comes by itself. */
const SHELL = '/job';

worker.addEventListener('install', (event) => {
  event.waitUntil(caches.open(PROGRAM).then((cache) => cache.addAll([...PROGRAM_FILES])));
  void worker.skipWaiting();
});
worker.addEventListener('activate', (event) => {
  const old = async () => {
    // The version before stays: pages of it may still be open, and fetch the rest of theirs.
    const programs = (await caches.keys()).filter((name) => name.startsWith('kerbe-program-') && name !== PROGRAM);
    for (const name of programs.slice(0, -1)) await caches.delete(name);
    // A page of another version asks for files that are gone.
    await (await caches.open(JOBS)).delete(SHELL);
    await worker.clients.claim();
  };
  event.waitUntil(old());
});

/** What is kept under which name; null for what is not. */
function keptAs({ pathname, searchParams }: URL, mode: RequestMode): string | null {
  if (mode === 'navigate') return /^\/job\/[\w-]+$/.test(pathname) ? SHELL : null;
  // What is asked for of a page differs: all of it, or what of it was made stale. At which stage it is does not matter.
  if (/^\/job\/[\w-]+\/__data\.json$/.test(pathname)) return `${pathname}?${searchParams.get('x-sveltekit-invalidated') ?? ''}`;
  if (/^\/api\/jobs\/[\w-]+$/.test(pathname) || /^\/api\/faces\/[^/]+$/.test(pathname)) return pathname;
  return null;
}

/** The network first: only when nothing answers, what was heard last, and it says so - unless who asks wants it as it is now, or not at all. */
async function heard(request: Request, name: string): Promise<Response> {
  try {
    const response = await fetch(request);
    if (response.ok && !response.redirected) keep(name, response.clone());
    return response;
  } catch (error) {
    const kept = request.cache === 'no-store' ? undefined : await caches.open(JOBS).then((cache) => cache.match(name));
    if (!kept) throw error;
    return new Response(kept.body, { status: kept.status, headers: [...kept.headers, ['x-kerbe-kept', 'yes']] });
  }
}

/** Keeps an answer beside its way to the page. A full disk keeps nothing, and stands in nobody's way. */
function keep(name: string, response: Response): void {
  const work = async () => {
    const cache = await caches.open(JOBS);
    // Put in anew, it counts as the one opened last.
    await cache.delete(name);
    await cache.put(name, response);
    if (name.startsWith('/api/jobs/')) await withShell(cache, `/job/${name.slice('/api/jobs/'.length)}`);
  };
  work().catch(() => {});
}

/** Whoever came to a job from within the shop never asked for its page: it is fetched once, and old jobs go. */
async function withShell(cache: Cache, address: string): Promise<void> {
  if (!(await cache.match(SHELL))) {
    const page = await fetch(address, { headers: { accept: 'text/html' } }).catch(() => null);
    if (page?.ok && !page.redirected) await cache.put(SHELL, page);
  }
  const jobs = (await cache.keys()).map(({ url }) => new URL(url).pathname).filter((path) => path.startsWith('/api/jobs/'));
  for (const path of jobs.slice(0, Math.max(0, jobs.length - MOST)))
    await Promise.all([cache.delete(path), cache.delete(`/job/${path.slice('/api/jobs/'.length)}/__data.json`, { ignoreSearch: true })]);
}

/** What was saved is what is kept, too: the document of the request under the revision of the answer. */
async function saved(request: Request, name: string): Promise<Response> {
  const asked = request.clone();
  const response = await fetch(request);
  const answer = response.clone();
  // The answer is the page's at once, whatever becomes of what is kept of it.
  if (response.ok)
    Promise.all([asked.json(), answer.json()])
      .then(([{ doc }, { revision }]) => keep(name, new Response(JSON.stringify({ revision, doc }), { headers: { 'content-type': 'application/json' } })))
      .catch(() => {});
  return response;
}

worker.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (url.origin !== location.origin) return;
  if (request.method === 'POST' && (url.pathname === '/api/sign-out' || url.pathname === '/sign-in')) return void event.waitUntil(caches.delete(JOBS));
  if (request.method === 'PUT' && /^\/api\/jobs\/[\w-]+$/.test(url.pathname)) return event.respondWith(saved(request, url.pathname));
  if (request.method !== 'GET') return;
  if (PROGRAM_FILES.has(url.pathname) || url.pathname.startsWith('/_app/immutable/'))
    return event.respondWith(caches.match(url.pathname).then((kept) => kept ?? fetch(request)));
  const name = keptAs(url, request.mode);
  if (name) event.respondWith(heard(request, name));
});
