/** What the agent can be told, as schemas, and what each command sets going. */
import { z } from 'zod';
import { Linked } from '@kerbe/core/machine';
import type { Agent } from './agent.ts';
import type { Who } from './controls.ts';
import { isOffset } from './setup.ts';

const number = z.number().min(-10_000).max(10_000);
const thickness = z.number().min(0).max(60);
const face = z.enum(['top', 'spoilboard']);
const corner = z.enum(['lower-left', 'lower-right', 'upper-left', 'upper-right', 'centre']);
const point = z.tuple([number, number]);
const triple = z.tuple([number, number, number]);
const extents = z.object({ min: triple, max: triple });
const words = z.string().min(1).max(80);
/** A bit of a job; no name that every object has by itself, for lengths are kept by it. */
const bit = z
  .string()
  .max(60)
  .refine((name) => !(name in {}), 'This is no bit.');
const feed = z.number().gt(0).max(20_000);
/** How much wood lies between the face that was touched and the one the program counts from, when they differ. */
const board = z.number().min(0).max(1000).default(0);
/** The job that a zero is set for. */
const job = z.string().max(80).nullable().default(null);
/** At a change of bit: tools are away and hands are off. */
const handsOff = z.boolean().default(false);

const Holder = z.object({ kind: z.enum(['clamp', 'screw', 'fence']), x: number, y: number, width: number, depth: number, height: number });

export const Command = z.discriminatedUnion('do', [
  z.object({ do: z.literal('take') }),
  z.object({ do: z.literal('leave') }),
  z.object({ do: z.literal('renew') }),
  z.object({ do: z.literal('home') }),
  z.object({ do: z.literal('jog'), x: number, y: number, z: number, feed }),
  z.object({ do: z.literal('jog-start'), way: triple, feed }),
  z.object({ do: z.literal('jog-on') }),
  z.object({ do: z.literal('jog-end') }),
  z.object({
    do: z.literal('zero-xy'),
    corner,
    by: words.default('where the bit stood'),
    at: z.object({ x: number.optional(), y: number.optional() }).default({}),
    angle: z.number().min(-Math.PI).max(Math.PI).default(0),
    job,
  }),
  z.object({ do: z.literal('move-over'), x: number, y: number }),
  z.object({ do: z.literal('zero-z'), method: z.enum(['plate', 'paper']), thickness, datum: face, on: face.optional(), board, job, handsOff }),
  z.object({
    do: z.literal('probe-block'),
    axis: z.enum(['x', 'y', 'z']),
    corner: corner.exclude(['centre']),
    block: z.object({ size: z.number().gt(5).max(300), lip: thickness, thickness }),
    radius: z.number().min(0).max(60),
    datum: face,
    board,
    job,
  }),
  z.object({ do: z.literal('keep-zero'), job }),
  z.object({ do: z.literal('nudge'), deeper: z.number().min(-5).max(5) }),
  z.object({ do: z.literal('use-offset'), word: z.string().refine(isOffset, 'There is no such work offset.') }),
  z.object({ do: z.literal('measure'), bit, sure: z.boolean().default(false), handsOff }),
  z.object({ do: z.literal('fitted'), bit, still: z.boolean().default(false) }),
  z.object({ do: z.literal('next'), sha256: z.string().max(80), from: z.int().min(1).max(10_000_000), board: z.enum(['new', 'same']).default('same') }),
  z.object({ do: z.literal('go-to-zero'), clearance: z.number().min(1).max(100) }),
  z.object({
    do: z.literal('frame'),
    way: z.array(point).min(2).max(5000),
    height: z.number().min(1).max(1100),
    sha256: z.string(),
    holders: z.array(Holder).max(100).default([]),
    reach: z.number().min(0).max(100).default(0),
  }),
  z.object({ do: z.literal('warm-up'), speed: z.number().min(500).max(100_000), seconds: z.number().gt(0).max(3600) }),
  z.object({ do: z.literal('reading'), thickness, at: z.object({ x: number, y: number, height: number }).optional() }),
  z.object({ do: z.literal('forget-readings') }),
  z.object({ do: z.literal('follow'), on: z.boolean() }),
  z.object({ do: z.literal('place-board'), x: number, y: number }),
  z.object({ do: z.literal('save-place'), name: words }),
  z.object({ do: z.literal('forget-place'), name: words }),
  z.object({ do: z.literal('confirm'), id: z.string().max(40), key: z.string().max(200), skipped: z.boolean().default(false) }),
  z.object({ do: z.literal('unconfirm'), id: z.string().max(40) }),
  z.object({ do: z.literal('hold') }),
  z.object({ do: z.literal('resume'), handsOff }),
  /** Ends the record of a run whose machine does not answer any more. */
  z.object({ do: z.literal('give-up') }),
  z.object({ do: z.literal('stop') }),
  z.object({ do: z.literal('clear') }),
  z.object({ do: z.literal('override'), feed: z.number().min(0.1).max(2), spindle: z.number().min(0.5).max(1.5) }),
  z.object({ do: z.literal('bench'), change: z.record(z.string(), z.unknown()) }),
  /** Another link; null for the one it was started with. */
  z.object({ do: z.literal('connect'), linked: Linked.nullable() }),
  z.object({ do: z.literal('raw'), text: z.string().max(200) }),
  z.object({
    do: z.literal('start'),
    order: z.object({
      id: z.string().regex(/^[\w-]{1,60}$/),
      name: z.string(),
      sha256: z.string(),
      program: z.string().max(200_000_000),
      textSha256: z.string().max(64),
      source: z.array(z.int()).max(10_000_000).optional(),
      lines: z.int().optional(),
      bits: z.array(bit).min(1),
      datum: z.object({ corner: z.string(), z: face }),
      extents,
      workOffset: z.string().optional(),
      vacuum: z.boolean().optional(),
      note: z.string().max(4000).optional(),
    }),
  }),
]);
export type Command = z.infer<typeof Command>;

/** Commands that need no controls: to stop a machine is everybody's, and a person's hands ask nobody. */
const FREE = new Set<Command['do']>(['take', 'leave', 'renew', 'hold', 'stop', 'jog-end', 'bench']);

/** Carries out a command. Resolves to why it was refused, or null. */
export async function carryOut(agent: Agent, command: Command, who: Who): Promise<string | null> {
  const { setup, controls } = agent;
  if (!FREE.has(command.do)) {
    const why = controls.check(who);
    if (why) return why;
  }
  switch (command.do) {
    case 'take':
      controls.take(who);
      if (agent.runner.running) agent.runner.note('controls', `${who.by} has the controls`);
      return null;
    case 'leave':
      controls.leave(who);
      return null;
    case 'renew':
      controls.renew(who);
      return null;
    case 'home':
      return agent.home();
    case 'jog':
      return agent.jog(command.x, command.y, command.z, command.feed);
    case 'jog-start':
      return agent.startJog(command.way, command.feed);
    case 'jog-on':
      return agent.jogOn();
    case 'jog-end':
      return agent.endJog();
    case 'zero-xy':
      return agent.needNoRun() ?? setup.zeroXY(command.corner, command.by, command.at, command.angle, command.job);
    case 'move-over':
      return agent.needFree() ?? setup.moveOver(command.x, command.y);
    case 'zero-z': {
      const { method, thickness: thick, datum, on, board: wood } = command;
      const set = () =>
        method === 'plate'
          ? setup.zeroZByPlate(thick, datum, on ?? datum, wood, command.job)
          : setup.zeroZByPaper(thick, datum, on ?? datum, wood, command.job);
      return agent.zeroZ(set, command.handsOff);
    }
    case 'probe-block':
      return agent.needNoRun() ?? setup.probeBlock(command.axis, command.corner, command.block, command.radius, command.datum, command.board, command.job);
    case 'keep-zero':
      return agent.needNoRun() ?? setup.keepZero(command.job);
    case 'nudge':
      return agent.needFree() ?? (setup.state.zeroZ ? setup.nudge(command.deeper) : 'Z zero has not been set.');
    case 'use-offset':
      return agent.needNoRun() ?? setup.useOffset(command.word);
    case 'measure':
      return agent.measure(command.bit, command.sure, command.handsOff);
    case 'fitted':
      return agent.fitted(command.bit, command.still);
    case 'next':
      return agent.chooseNext({ sha256: command.sha256, from: command.from }, command.board);
    case 'go-to-zero':
      return agent.needFree() ?? setup.needZero() ?? setup.goToZero(command.clearance);
    case 'frame':
      return agent.needNoRun() ?? setup.needZero() ?? setup.frame(command.way, command.height, command.sha256, command.holders, command.reach);
    case 'warm-up':
      return agent.warmUp(command.speed, command.seconds);
    case 'reading': {
      const why = agent.needNoRun() ?? setup.needZero();
      if (why) return why;
      if (!command.at) return setup.takeReading(command.thickness);
      setup.addReading(command.at);
      return null;
    }
    case 'forget-readings':
      setup.remember({ readings: [], follow: false });
      return null;
    case 'follow':
      if (command.on && setup.state.readings.length < 3) return 'To follow the surface at least three readings are needed.';
      setup.remember({ follow: command.on });
      return null;
    case 'place-board':
      setup.remember({ bed: { x: command.x, y: command.y } });
      return null;
    case 'save-place': {
      const why = agent.hands.needHomed();
      if (!why) setup.savePlace(command.name);
      return why;
    }
    case 'forget-place':
      setup.forgetPlace(command.name);
      return null;
    case 'confirm':
      setup.confirm({ id: command.id, key: command.key, skipped: command.skipped, by: who.by, at: new Date().toISOString() });
      return null;
    case 'unconfirm':
      setup.unconfirm(command.id);
      return null;
    case 'hold':
      return agent.runner.hold(who.by);
    case 'resume':
      return agent.resume(command.handsOff);
    case 'give-up':
      return agent.runner.giveUp(who.by);
    case 'stop':
      return agent.stop(who.by);
    case 'clear':
      return agent.hands.command('clear');
    case 'override':
      return agent.override(command.feed, command.spindle);
    case 'bench':
      return agent.bench(command.change);
    case 'connect':
      return agent.connect(command.linked);
    case 'raw':
      if (agent.runner.running) return 'A program is running.';
      agent.link.raw(command.text);
      return null;
    case 'start':
      return agent.start(command.order);
  }
}
