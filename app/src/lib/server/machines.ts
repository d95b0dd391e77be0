/** The shop's machines: their profiles, and which of them are linked. */
import { env } from '$env/dynamic/private';
import { kerbeLink, LASER_BENCH, linkedOf, MachineProfile, TORCH_TABLE } from '@kerbe/core/machine';
import { meantOf } from '$lib/machine';
import type { ProcessName } from '@kerbe/core/process';
import { agentCommand, lookForAgents, presentSnapshot, type Person } from './agents';
import { db } from './db';
import { endAgent, keepAgent } from './keeper';

/** The machines that come with Kerbe: each has its agent from the beginning. */
const simulated = (): { id: string; kind: ProcessName }[] => JSON.parse(env.KERBE_SIMULATED ?? '[]') as { id: string; kind: ProcessName }[];
export const isSimulated = (id: string): boolean => simulated().some((one) => one.id === id);

/** What the simulated machines are, each as a shop would write it down. */
const SIMULATED: Partial<Record<ProcessName, (name: string) => object>> = {
  router: (name) => ({
    // Nothing of it gets warm: a minute is enough to practise on.
    limits: { name, warmUpSeconds: 60 },
    has: { vacuum: true, dust: true, pins: true, lid: false },
  }),
  torch: (name) => ({
    limits: { ...TORCH_TABLE, name },
    sensor: null,
    plates: [],
    blocks: [],
    devices: [{ name: 'Magnet', kind: 'clamp', width: 40, depth: 40, height: 25 }],
    slots: null,
    has: { vacuum: false, dust: false, pins: false, lid: false },
  }),
  laser: (name) => ({
    limits: { ...LASER_BENCH, name },
    sensor: null,
    plates: [],
    blocks: [],
    devices: [{ name: 'Weight', kind: 'clamp', width: 30, depth: 30, height: 15 }],
    pointer: { x: -18, y: 6 },
    slots: null,
    has: { vacuum: false, dust: false, pins: false, lid: true },
  }),
};

const simulatedProfile = (kind: ProcessName, name: string): MachineProfile =>
  MachineProfile.parse({
    kind,
    ...SIMULATED[kind]?.(name),
    shows: true,
    link: kerbeLink('127.0.0.1', 4001),
    notes: 'Comes with Kerbe: no material, no noise, every fault to order on its bench.',
  });

/** A real machine as a shop would write it down, to start from; nobody has tried it on hardware. */
const serialProfile = (): MachineProfile =>
  MachineProfile.parse({
    limits: { name: 'Shed router', travel: [1220, 810, 110], usable: { x: 15, y: 15, width: 1180, height: 770 }, park: [10, 790] },
    spindle: { control: 'hand', min: 8000, fullScale: 24000 },
    sensor: { x: 30, y: 790, radius: 10, height: 40 },
    has: { vacuum: false, dust: true, pins: false, lid: false },
    link: {
      transport: { kind: 'serial', path: '/dev/ttyUSB0', baud: 115200 },
      talk: 'plain',
      lines: 8,
      bytes: 120,
      ask: 'POS\\n',
      status: '^pos (?<state>\\w+) (?<x>-?[\\d.]+) (?<y>-?[\\d.]+) (?<z>-?[\\d.]+)$',
      probe: '^touch (?<x>-?[\\d.]+) (?<y>-?[\\d.]+) (?<z>-?[\\d.]+) (?<touched>[01])$',
      states: { idle: '^ready$', run: '^moving$', hold: '^held$', alarm: '^fault' },
      hold: 'HOLD\\n',
      resume: 'GO\\n',
      stop: 'ABORT\\n',
      clear: 'CLEAR\\n',
    },
    notes: 'An example of a machine on a serial cable. Every word of its link is to be set from the controller’s own manual; none of it was tried on hardware.',
  });

/** Every simulated machine there is stands in the list; a new shop's has an example of a real one too. */
export async function fillMachines(): Promise<void> {
  const known = (await db().selectFrom('machine').select('id').execute()).map(({ id }) => id);
  const row = (id: string, doc: MachineProfile, connected: boolean) => ({ id, name: doc.limits.name, doc: JSON.stringify(doc), connected });
  const of: Record<string, number> = {};
  for (const { id, kind } of simulated()) {
    const count = (of[kind] = (of[kind] ?? 0) + 1);
    if (known.includes(id)) continue;
    await db()
      .insertInto('machine')
      .values(row(id, simulatedProfile(kind, `Simulated ${kind}${count > 1 ? ` ${count}` : ''}`), true))
      .execute();
    await db().insertInto('spoilboard_skim').values({ machine_id: id, height: 18, note: 'New board, planed on both sides', author: 'owner' }).execute();
  }
  if (known.length === 0)
    await db()
      .insertInto('machine')
      .values(row('shed-router', serialProfile(), false))
      .execute();
}

/** A machine that is linked has an agent; said once, at the start: an older Kerbe had one agent for all of them. */
export async function settleLinks(): Promise<void> {
  for (const { id, connected, profile } of await machines())
    if (isSimulated(id)) {
      if (!connected) await db().updateTable('machine').set({ connected: true }).where('id', '=', id).execute();
    } else if (connected) await keepAgent(id, linkedOf(profile));
}

export interface MachineRow {
  id: string;
  name: string;
  /** Does it have an agent that is linked to it? */
  connected: boolean;
  /** It comes with Kerbe. */
  simulated: boolean;
  profile: MachineProfile;
}

/** Reads a profile as it was kept: what a newer Kerbe added has its usual value. */
const read = (row: { id: string; name: string; connected: boolean; doc: MachineProfile }): MachineRow => ({
  id: row.id,
  name: row.name,
  connected: row.connected,
  simulated: isSimulated(row.id),
  profile: MachineProfile.parse(row.doc),
});

/** The linked ones first, and of these those that do not come with Kerbe. */
export async function machines(): Promise<MachineRow[]> {
  const rows = (await db().selectFrom('machine').select(['id', 'name', 'connected', 'doc']).orderBy('name').execute()).map(read);
  const rank = ({ connected, simulated }: MachineRow) => (connected ? 0 : 2) + (simulated ? 1 : 0);
  return rows.sort((a, b) => rank(a) - rank(b));
}

/** The machine a job is for. */
export const machineFor = async (job: { machine: { id?: string }; process: ProcessName }): Promise<MachineRow | null> => meantOf(await machines(), job);

/** Links Kerbe to a machine by an agent of its own, or renews what its agent knows of it. Resolves to why not, or null. */
export async function link(id: string, person: Person): Promise<string | null> {
  const row = (await machines()).find((machine) => machine.id === id);
  if (!row) return 'This machine is not in the shop any more.';
  const linked = linkedOf(row.profile);
  try {
    if (!row.simulated) await keepAgent(id, linked);
    await lookForAgents();
  } catch (error) {
    return `Its agent could not be started (${(error as Error).message}).`;
  }
  const why = await agentCommand(id, { do: 'connect', linked: row.simulated ? null : linked }, person);
  if (!why) await db().updateTable('machine').set({ connected: true }).where('id', '=', id).execute();
  return why;
}

/** Lets a machine go: its agent ends, and what it knew of it is kept for another time. */
export async function unlink(id: string, person: Person): Promise<string | null> {
  if (isSimulated(id)) return 'A simulated machine stays linked.';
  // An agent that does not answer is carrying out nothing.
  if ((await presentSnapshot(id)).agent) {
    const why = await agentCommand(id, { do: 'connect', linked: null }, person);
    if (why) return why;
  }
  await endAgent(id);
  await lookForAgents();
  await db().updateTable('machine').set({ connected: false }).where('id', '=', id).execute();
  return null;
}
