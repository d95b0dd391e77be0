/** The laser's pictures: dots alone, dots to moves, moves to a program, and the energy of it. */
import { readJob, type Job } from '../src/job/index.ts';
import { LASER_BENCH } from '../src/machine/index.ts';
import { dithered, type Grey } from '../src/cuts/laser/tone.ts';
import { dotsOf, LaserPicture, planPictures } from '../src/cuts/laser/picture.ts';
import { planJob, writePrograms } from '../src/plan/index.ts';
import { burnMap } from '../src/proof/index.ts';

/** A gradient with a wave over it: every tone, and no row like the one before. */
const picture = (width: number, height: number): Grey => ({
  width,
  height,
  data: Uint8Array.from({ length: width * height }, (_, k) => {
    const [x, y] = [k % width, Math.floor(k / width)];
    return Math.round(255 * (0.5 + 0.35 * Math.sin(x / 37) * Math.cos(y / 23) + (0.3 * (x - width / 2)) / width));
  }),
});
const cut = LaserPicture.parse({ kind: 'laser-picture', id: 'p', on: 'art', tool: 'head1', linesPerMm: 10 });

function jobOf(width: number, height: number): Job {
  const reading = readJob({
    kerbe: 4,
    process: 'laser',
    name: 'Picture',
    board: { width: width + 40, height: height + 40, thickness: 3, material: 'birch ply', holdDown: 'tape' },
    items: { photo: { kind: 'picture', id: 'photo', asset: 'a', x: width / 2 + 20, y: height / 2 + 20, width, height } },
    itemOrder: ['photo'],
    tools: { head1: { kind: 'head', id: 'head1' } },
    cuts: { p: cut },
    cutOrder: ['p'],
    machine: LASER_BENCH,
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

/** @param time best of a few runs, seconds; @param row one line of the table */
export async function benchLaser(
  time: (work: () => unknown, runs?: number) => number,
  row: (what: string, figure: string, aim: string) => void,
): Promise<void> {
  const s = (seconds: number) => `${seconds.toFixed(3)} s`;
  const pixels = picture(1500, 1000);
  const placed = { id: 'photo', x: 95, y: 70, width: 150, height: 100, angle: 0, mirror: false, pixels };
  const dots = dotsOf(placed, cut);
  const alone = time(() => dithered(dots, 'floyd-steinberg'));
  const moves = time(() => planPictures([placed], cut, 3000, 2000));
  const job = jobOf(150, 100);
  const sources = { fonts: () => undefined, pictures: () => Promise.resolve(pixels) };
  const begun = performance.now();
  const plan = await planJob(job, sources);
  const planned = (performance.now() - begun) / 1000;
  let bytes = 0;
  const written = time(() => (bytes = writePrograms(job, plan, '2026-01-01').reduce((sum, { text }) => sum + text.length, 0)));
  row('laser: 1,500 x 1,000 px, dots alone', s(alone), '');
  row('laser: the same, dots to moves', `${s(moves)} (${(moves / alone).toFixed(1)}x the dots)`, '<= 3x');
  row('laser: the same, planned and checked', s(planned), '');
  row(`laser: the same, written (${(bytes / 1e6).toFixed(1)} MB)`, s(written), '< 0.7 s with the moves, < 30 MB');
  row('laser: energy of it on 0.1 mm', s(time(() => burnMap(job, plan.cuts, 0.1), 1)), '< 2 s');
  const large = jobOf(400, 400);
  const many = picture(4000, 4000);
  const start = performance.now();
  const whole = await planJob(large, { fonts: () => undefined, pictures: () => Promise.resolve(many) });
  const peak = Math.round(process.resourceUsage().maxRSS / 1024);
  row('laser: 4,000 x 4,000 px, planned and checked', s((performance.now() - start) / 1000), '');
  row(`laser: the same, ${(whole.cuts[0].facts.moves / 1e6).toFixed(1)} M moves: peak of this process`, `${peak} MB`, 'bounded: 12 M moves');
  row('laser: energy of it on 0.1 mm', s(time(() => burnMap(large, whole.cuts, 0.1), 1)), '< 2 s');
}
