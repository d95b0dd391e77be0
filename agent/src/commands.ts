/** What the agent can be told, and what each command sets going. */
import type { Command } from '@kerbe/core/link/commands';
import type { Agent } from './agent.ts';
import type { Who } from './controls.ts';

/** Commands that need no controls: to stop a machine is everybody's, and a person's hands ask nobody. */
const FREE = new Set<Command['do']>(['take', 'leave', 'renew', 'present', 'hold', 'stop', 'jog-end', 'bench']);

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
        method === 'torch' || method === 'focus'
          ? setup.zeroZByFeeling(method, command.job)
          : method === 'gauge'
            ? setup.zeroZByGauge(thick, command.job)
            : method === 'plate'
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
      return (
        agent.needNoRun() ??
        setup.needZero() ??
        (command.beam && agent.beamRefused()) ??
        setup.frame(command.way, command.height, command.sha256, command.holders, command.reach, command.beam, command.pointer)
      );
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
    case 'present':
      return agent.runner.present(who.by);
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
