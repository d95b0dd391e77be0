/** The little square that tells a kerf: cut at the kerf of the chart, measured outside and in its hole, it says what the kerf is. */
import { beginCut } from '../artwork/begin-cut.ts';
import type { Bit } from '../bits/schema.ts';
import { KERF_TEST } from '../bits/chart.ts';
import { JOB_VERSION, readJob, type Job, type JobInput } from '../job/index.ts';
import type { LengthUnit } from '../length/index.ts';
import { TORCH_TABLE } from '../machine/index.ts';

/** Plate round the square, mm: room for its leads, and to clamp it. */
const ROUND = 20;

/** A job that cuts the test square with a nozzle, by what its chart says of that thickness. */
export function kerfTest(nozzle: Bit, { thickness, material, units = 'mm' }: { thickness: number; material: string; units?: LengthUnit }): Job {
  const side = KERF_TEST.square + 2 * ROUND;
  const middle = { x: side / 2, y: side / 2 };
  const square = (id: string, name: string, size: number) => ({ kind: 'rectangle' as const, id, name, ...middle, width: size, height: size });
  const reading = readJob({
    kerbe: JOB_VERSION,
    process: 'torch',
    name: 'Kerf test',
    units,
    board: { width: side, height: side, thickness, material },
    items: { square: square('square', 'Test square', KERF_TEST.square), hole: square('hole', 'Its hole', KERF_TEST.hole) },
    itemOrder: ['square', 'hole'],
    tools: { [nozzle.id]: nozzle },
    cuts: {},
    cutOrder: [],
    machine: TORCH_TABLE,
  } satisfies JobInput);
  if (!reading.ok) throw new Error(reading.why.join(' '));
  const { job } = reading;
  job.cuts.cut = beginCut(job, job.tools[nozzle.id], { kind: 'torch', id: 'cut', name: 'Cut the test square', on: 'art' });
  job.cutOrder.push('cut');
  return job;
}
