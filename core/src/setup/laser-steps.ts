/** What is done at a laser before a program runs. The usual caution; the laser's manual, local rules and qualified people come first. */
import { bitName } from '../bits/index.ts';
import { tileMove } from '../job/tiles.ts';
import { formatLength } from '../length/index.ts';
import { powerWordsOf } from '../process/index.ts';
import { machineSteps } from './machine-steps.ts';
import { staleZero, StepList, type Step, type StepId, type StepInput } from './step-list.ts';
import { frameStep, placeStep, xyStep } from './zero-steps.ts';

export function laserSteps(input: StepInput): Step[] {
  const list = new StepList(input);
  const { job, program, machine, jobId, isToday } = input;
  machineSteps(list, input);
  const head = program ? job.tools[program.bits[0]] : undefined;
  const { setup, status } = machine;
  const world = status?.world;
  const cabinet = world?.cabinet;
  const confirm = (id: StepId, title: string, holds: string) => list.add(id, title, 'confirmed', false, holds, { skip: false });
  list.add('head', `Fit ${head ? bitName(head, job.units) : 'the head'}`, 'confirmed', false, 'Power off first. Its lens is clean: dust on it burns in.', {
    skip: false,
    done: head !== undefined && setup.bitFitted === head.id,
  });
  // 30 % of a scale of 1000 is 118 % of one of 255, and 3 % of one of 10,000.
  const asked = powerWordsOf(job).scale;
  const full = status?.beam?.full;
  if (full === undefined)
    confirm(
      'scale',
      `S${asked} is full power at its controller`,
      'What it calls full power stands in its settings. With another scale every power of the program is another.',
    );
  else
    list.add(
      'scale',
      `S${asked} is full power at its controller`,
      'seen',
      full === asked,
      `Its controller says S${full}: what is planned as 30 % would burn with ${Math.round((3000 * asked) / full) / 100} %. Set S${asked} there, or plan the job for this machine on Board.`,
      { skip: false },
    );
  const tile = program?.tile;
  if (tile && tile.index > 0)
    confirm(
      'push',
      tileMove(tile, (mm) => formatLength(mm, { unit: job.units })),
      'Take the weights off, push it without turning it, lay them on again. What hangs out of the machine is held up.',
    );
  else
    confirm(
      'held',
      'Lay the sheet on its supports',
      'Flat, clear of what will fall, and weighed down where the air would lift it. It is what its label says, and that may meet a laser.',
    );
  xyStep(list, input);
  const staleZ = staleZero(setup.zeroZ, jobId, isToday);
  list.add(
    'z',
    'Focus on the surface',
    'seen',
    setup.zeroZ !== null && staleZ === null,
    staleZ ?? 'By the gauge, the sensor or the figure of its lens: Z0 is the surface in focus.',
    {
      stale: staleZ !== null,
      skip: false,
    },
  );
  placeStep(list, input);
  frameStep(list, input, 'Run round the job with the beam dark');
  list.either(
    'air',
    'Air and extraction on',
    cabinet?.air === true && cabinet.extraction,
    'The air keeps flames and smoke off the lens; the smoke must be led away.',
  );
  confirm('fire', 'An extinguisher is at hand, and nothing that burns lies in the machine', 'A beam that stands sets sheets alight within seconds.');
  list.either('key', 'Turn its key on', cabinet?.key === true, 'Only whoever stays with it has the key. It is taken out when nobody does.');
  list.either(
    'lid',
    'Shut the lid; eyewear for its wavelength where it can be open',
    world !== undefined && world.lidOpen === false,
    'Also a reflection blinds, and some beams cannot be seen.',
  );
  confirm('person', 'I stay with it until it ends, and the lid stays shut until the smoke is gone', 'A laser never runs alone.');
  return list.steps;
}
