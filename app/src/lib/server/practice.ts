/** Runs of the exercises: their programs on a simulated machine. They are nobody's work, so that no record is kept of them. */
import { createHash, randomUUID } from 'node:crypto';
import { PRACTICE_RUN } from '@kerbe/core/practice/exercises';
import { practiceNames, practiceOrder, practiceProgram } from '@kerbe/core/practice/programs';
import type { ProcessName } from '@kerbe/core/process';
import { agentCommand, type Person } from './agents';
import { machines } from './machines';
import { shopSettings } from './shop';

/** What lies ready for the exercises on a kind of machine, as the bench shows it. */
export const practiceFiles = async (process: ProcessName) =>
  Promise.all(
    practiceNames(process).map(async (name) => {
      const { header, places, seconds } = (await practiceProgram(process, name))!;
      return { name, header, seconds, places: places.map(({ line, label }) => ({ line, label })) };
    }),
  );

/** Starts a program of the exercises on a simulated machine, or takes it up again at one of its lines. */
export async function practiseRun(machine: string, asked: { program: string; from?: number }, person: Person, key: string): Promise<string | null> {
  const shop = (await machines()).find(({ id }) => id === machine);
  if (!shop?.simulated) return 'Programs of the exercises run on simulated machines only.';
  const order = await practiceOrder(shop.profile.kind, asked.program, asked.from);
  if (typeof order === 'string') return order;
  const sha256 = createHash('sha256').update(order.program).digest('hex');
  const { presence } = await shopSettings();
  return agentCommand(
    machine,
    { do: 'start', order: { ...order, id: `${PRACTICE_RUN}${randomUUID()}`, sha256, textSha256: sha256, presence: 60 * presence, note: 'practice' } },
    person,
    key,
  );
}
