import { randomUUID } from 'node:crypto';
import { json } from '@sveltejs/kit';
import { z } from 'zod';
import { agentCommand } from '$lib/server/agent';
import { db } from '$lib/server/db';
import type { RequestHandler } from './$types';

/** Everything but `start` goes to the agent as it is: the agent checks it and says what holds it. */
const Body = z.union([
  z.object({ do: z.literal('start'), release: z.string(), program: z.string() }),
  z.looseObject({
    do: z.enum(['home', 'jog', 'zero-xy', 'move-over', 'zero-z', 'measure', 'go-to-zero', 'frame', 'hold', 'resume', 'stop', 'clear', 'bench']),
  }),
]);
type Start = Extract<z.infer<typeof Body>, { do: 'start' }>;

export const POST: RequestHandler = async ({ request, locals }) => {
  const parsed = Body.safeParse(await request.json().catch(() => null));
  if (!parsed.success) return json({ why: 'The command could not be read.' }, { status: 400 });
  const command = parsed.data;
  const key = request.headers.get('idempotency-key') ?? undefined;
  if (!key) return json({ why: 'A command needs an idempotency key.' }, { status: 400 });
  const author = locals.user!.name;
  const why = command.do === 'start' && 'release' in command ? await start(command as Start, author, key) : await agentCommand(command, key);
  // Stopping a machine must not wait for the database.
  void db()
    .insertInto('audit')
    .values({ author, command: command.do, detail: JSON.stringify(command).slice(0, 2000), refused: why })
    .execute()
    .catch((error: Error) => console.error(`audit: ${error.message}`));
  return json({ why }, { status: why === null ? 200 : 409 });
};

/** Starts a released program, and nothing else: what runs is read from the release, not from the browser. */
async function start(command: Start, author: string, key: string): Promise<string | null> {
  const release = await db().selectFrom('release').selectAll().where('id', '=', command.release).executeTakeFirst();
  const program = release?.programs.find(({ name }) => name === command.program);
  if (!release || !program || !program.extents) return 'Only a released program can be run, and this is not one.';
  const revision = await db()
    .selectFrom('job_revision')
    .select('doc')
    .where('job_id', '=', release.job_id)
    .where('revision', '=', release.revision)
    .executeTakeFirstOrThrow();
  const job = await db().selectFrom('job').select('revision').where('id', '=', release.job_id).executeTakeFirstOrThrow();
  if (job.revision !== release.revision) return 'The job was changed after this release. Release it again first.';
  const id = randomUUID();
  await db()
    .insertInto('run')
    .values({
      id,
      release_id: release.id,
      job_id: release.job_id,
      program: program.name,
      state: 'starting',
      estimate_seconds: program.seconds,
      lines: program.lines,
      author,
      ended_at: null,
      message: '',
      notes: '',
      line: 0,
      actual_seconds: 0,
    })
    .execute();
  const why = await agentCommand(
    {
      do: 'start',
      order: { id, name: program.name, sha256: program.sha256, program: program.text, bits: program.bits, datum: revision.doc.datum, extents: program.extents },
    },
    key,
  );
  if (why) await db().deleteFrom('run').where('id', '=', id).execute();
  else await db().updateTable('job').set({ state: 'at-machine' }).where('id', '=', release.job_id).execute();
  return why;
}
