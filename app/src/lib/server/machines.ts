/** The shop's machines: their profiles, and which of them the agent is linked to. */
import { kerbeLink, linkedOf, MachineProfile } from '@kerbe/core/machine';
import { z } from 'zod';
import { agentCommand, type Person } from './agent';
import { db } from './db';

/** The machine that ships with Kerbe: its link is the one the agent was started with. */
export const SIMULATED = 'simulated-router';

export const simulatedProfile = (): MachineProfile =>
  MachineProfile.parse({
    // Nothing of it gets warm: a minute is enough to practise on.
    limits: { name: 'Simulated router', warmUpSeconds: 60 },
    shows: true,
    has: { vacuum: true, dust: true, pins: true, lid: false },
    link: kerbeLink('127.0.0.1', 4001),
    notes: 'Comes with Kerbe: no wood, no noise, every fault to order on its bench.',
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

export async function fillMachines(): Promise<void> {
  const any = await db().selectFrom('machine').select('id').limit(1).executeTakeFirst();
  if (any) return;
  const row = (id: string, doc: MachineProfile, connected: boolean) => ({ id, name: doc.limits.name, doc: JSON.stringify(doc), connected });
  await db()
    .insertInto('machine')
    .values([row(SIMULATED, simulatedProfile(), true), row('shed-router', serialProfile(), false)])
    .execute();
  await db()
    .insertInto('spoilboard_skim')
    .values([{ machine_id: SIMULATED, height: 18, note: 'New board, planed on both sides', author: 'owner' }])
    .execute();
}

export interface MachineRow {
  id: string;
  name: string;
  connected: boolean;
  profile: MachineProfile;
}

/** Reads a profile as it was kept: what a newer Kerbe added has its usual value. */
const read = (row: { id: string; name: string; connected: boolean; doc: MachineProfile }): MachineRow => ({
  id: row.id,
  name: row.name,
  connected: row.connected,
  profile: MachineProfile.parse(row.doc),
});

export async function machines(): Promise<MachineRow[]> {
  return (await db().selectFrom('machine').select(['id', 'name', 'connected', 'doc']).orderBy('connected', 'desc').orderBy('name').execute()).map(read);
}

/** The machine the agent is linked to. */
export async function connectedMachine(): Promise<MachineRow> {
  const row = await db().selectFrom('machine').select(['id', 'name', 'connected', 'doc']).where('connected', '=', true).executeTakeFirst();
  return row ? read(row) : { id: SIMULATED, name: 'Simulated router', connected: true, profile: simulatedProfile() };
}

/** Links the agent to a machine. Resolves to why not, or null. */
export async function connect(id: string, person: Person): Promise<string | null> {
  const row = (await machines()).find((machine) => machine.id === id);
  if (!row) return 'This machine is not in the shop any more.';
  const why = await agentCommand({ do: 'connect', linked: id === SIMULATED ? null : linkedOf(row.profile) }, person);
  if (why) return why;
  await db()
    .transaction()
    .execute(async (trx) => {
      await trx.updateTable('machine').set({ connected: false }).execute();
      await trx.updateTable('machine').set({ connected: true }).where('id', '=', id).execute();
    });
  return null;
}

export const Skim = z.object({
  height: z.number().gt(0).max(200),
  note: z.string().max(400).default(''),
  /** A new spoilboard was fitted: it may be thicker than the last one. */
  fresh: z.boolean().default(false),
  /** It is below the least that is worth skimming, and that is known. */
  thin: z.boolean().default(false),
});

/** Writes down a skim of the spoilboard: its new height is the machine's from now on. */
export async function skim(id: string, { height, note, fresh, thin }: z.infer<typeof Skim>, author: string): Promise<string | null> {
  const row = (await machines()).find((machine) => machine.id === id);
  if (!row) return 'This machine is not in the shop any more.';
  const { height: before, least } = row.profile.spoilboard;
  if (!fresh && height > before + 1e-6)
    return `It was ${before.toFixed(2)} mm thick, and a skim takes off. Was a new spoilboard fitted? Then say so. Else measure again.`;
  if (!thin && height < least)
    return `Below ${least.toFixed(2)} mm it is not worth skimming: screws, slots and the bed come near. Fit a new one, or say that it is meant; every set-up then says that it is thin.`;
  const doc = { ...row.profile, spoilboard: { ...row.profile.spoilboard, height } };
  await db()
    .transaction()
    .execute(async (trx) => {
      await trx.insertInto('spoilboard_skim').values({ machine_id: id, height, note, author }).execute();
      await trx
        .updateTable('machine')
        .set({ doc: JSON.stringify(doc), updated_at: new Date() })
        .where('id', '=', id)
        .execute();
    });
  return null;
}
