import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { jsonOf } from '$lib/server/body';
import { log } from '$lib/server/log';
import type { RequestHandler } from './$types';

const Trouble = z.object({
  message: z.string().max(500),
  stack: z.string().max(6000).default(''),
  page: z.string().max(300),
  doing: z.string().max(300).default(''),
});

/** Something went wrong in a browser: it goes into the log, with who it was and what they were doing. */
export const POST: RequestHandler = async ({ request, locals }) => {
  const trouble = await jsonOf(request, Trouble);
  if (!trouble) return json({ why: 'It could not be read.' }, { status: 400 });
  log.error({ part: 'browser', request: locals.request, person: locals.user?.id, ...trouble }, 'trouble in a browser');
  return json({ why: null, id: locals.request });
};
