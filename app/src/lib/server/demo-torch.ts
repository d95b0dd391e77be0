/** Demo jobs of the torch: a gate panel with reeds and a wading bird, and a bracket with small holes. All drawn for the invented shop. */
import { usualNozzle } from '@kerbe/core/bits/usual';
import { JOB_VERSION, readJob, type Job } from '@kerbe/core/job';
import { TORCH_TABLE } from '@kerbe/core/machine';

/** Figures of the starting chart, as the card would take them. */
const CUT_3 = { feed: 4763, kerf: 1.48, pierceDelay: 0.26, pierceHeight: 3.8, cutHeight: 1.5, volts: 121 };
const CUT_6 = { feed: 1907, kerf: 1.59, pierceDelay: 0.47, pierceHeight: 3.8, cutHeight: 1.5, volts: 127 };

function torchJob(document: object): Job {
  const reading = readJob({ kerbe: JOB_VERSION, process: 'torch', outline: null, machine: TORCH_TABLE, ...document });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}

/** A reed: a stem that rises from the ground line, leans, and carries a head; back down its other side. From left to right. */
function reed(x: number, height: number, lean: number, ground: number): string {
  const tip = ground + height;
  const head = tip - 52;
  const at = (share: number) => x + lean * share * share;
  return [
    `L${x - 4} ${ground}`,
    `Q${at(0.5) - 4} ${ground + height / 2} ${at(0.8) - 3.5} ${head}`,
    `C${at(0.8) - 10} ${head + 8} ${at(0.95) - 10} ${tip - 16} ${at(0.95) - 2.5} ${tip - 10}`,
    `L${at(1)} ${tip}`,
    `L${at(0.95) + 2.5} ${tip - 10}`,
    `C${at(0.95) + 10} ${tip - 16} ${at(0.8) + 10} ${head + 8} ${at(0.8) + 3.5} ${head}`,
    `Q${at(0.5) + 4} ${ground + height / 2} ${x + 4} ${ground}`,
  ].join('');
}

/** A wading bird on one leg, looking right; from its leg up the back, over the head, and down the breast. */
const bird = (x: number, y: number): string => {
  const at = (dx: number, dy: number) => `${x + dx} ${y + dy}`;
  return [
    `L${at(-4, 0)}`,
    `L${at(-3.5, 66)}`,
    `Q${at(-26, 66)} ${at(-54, 50)}`,
    `Q${at(-38, 84)} ${at(2, 104)}`,
    `C${at(16, 112)} ${at(14, 124)} ${at(10, 138)}`,
    `C${at(5, 156)} ${at(14, 172)} ${at(30, 170)}`,
    `L${at(78, 156)}`,
    `L${at(34, 155)}`,
    `C${at(24, 155)} ${at(22, 146)} ${at(27, 134)}`,
    `C${at(34, 116)} ${at(40, 104)} ${at(33, 88)}`,
    `Q${at(26, 72)} ${at(5, 67)}`,
    `L${at(4, 0)}`,
  ].join('');
};

/** The panel of a gate: reeds and a bird stand in one opening, the name is cut under it. */
function gatePanel(): Job {
  const ground = 150;
  const [left, right, top] = [45, 555, 375];
  const opening = [
    `M${left} ${ground}`,
    reed(86, 188, 14, ground),
    reed(118, 150, -8, ground),
    reed(156, 196, 10, ground),
    bird(278, ground),
    reed(420, 172, -10, ground),
    reed(458, 200, 8, ground),
    reed(500, 140, 14, ground),
    `L${right} ${ground}L${right} ${top}L${left} ${top}Z`,
  ].join('');
  return torchJob({
    name: 'Larkmere gate panel',
    board: { width: 640, height: 440, thickness: 3, material: 'mild steel', holdDown: 'slats', slats: { along: 'y', pitch: 100, first: 50, thick: 4 } },
    items: {
      panel: { kind: 'rectangle', id: 'panel', name: 'Panel', x: 320, y: 220, width: 600, height: 400, radius: 24 },
      scene: { kind: 'path', id: 'scene', name: 'Reeds and wading bird', x: 20, y: 20, d: opening, fill: 'nonzero' },
      words: { kind: 'text', id: 'words', name: 'Words', x: 320, y: 100, text: 'LARKMERE', face: 'saira', capHeight: 74, fitWidth: 500 },
      hinges: { kind: 'holes', id: 'hinges', name: 'Bolt holes', x: 320, y: 220, diameter: 9, layout: { kind: 'rows', columns: 2, rows: 2, dx: 572, dy: 372 } },
    },
    itemOrder: ['panel', 'scene', 'words', 'hinges'],
    tools: { nozzle1: usualNozzle(3) },
    cuts: { cut: { kind: 'torch', id: 'cut', name: 'Cut the panel', on: 'art', tool: 'nozzle1', ...CUT_3 } },
    cutOrder: ['cut'],
    program: { clearance: 60 },
    notes: 'For the gate of Larkmere Arboretum. Reeds and bird stand on the rail; the name is in a stencil face, so that nothing falls out of it.',
  });
}

/** A bracket of thicker plate, two of them from one sheet: holes cut slower, outlines last. */
function bracket(): Job {
  const shape = 'M-70 -40L70 -40L70 -5L5 -5Q-35 -5 -35 35L-35 60L-70 60Z';
  const one = (id: string, x: number) => ({
    [`${id}-shape`]: { kind: 'path', id: `${id}-shape`, name: `Bracket ${id}`, x, y: 75, d: shape, fill: 'nonzero' },
    [`${id}-holes`]: {
      kind: 'holes',
      id: `${id}-holes`,
      name: `Foot holes of bracket ${id}`,
      x: x - 1,
      y: 53,
      diameter: 10,
      layout: { kind: 'rows', columns: 2, rows: 1, dx: 102, dy: 10 },
    },
    [`${id}-eye`]: { kind: 'ellipse', id: `${id}-eye`, name: `Eye of bracket ${id}`, x: x - 52, y: 117, width: 12, height: 12 },
  });
  const items = { ...one('A', 90), ...one('B', 250) };
  return torchJob({
    name: 'Gate bracket',
    board: { width: 340, height: 160, thickness: 6, material: 'mild steel', holdDown: 'slats', slats: { along: 'y', pitch: 60, first: 20, thick: 4 } },
    items,
    itemOrder: Object.keys(items),
    tools: { nozzle1: usualNozzle(6) },
    cuts: { cut: { kind: 'torch', id: 'cut', name: 'Cut the brackets', on: 'art', tool: 'nozzle1', ...CUT_6 } },
    cutOrder: ['cut'],
    program: { clearance: 20 },
    notes: 'Two brackets for the gate. The holes are little wider than the plate is thick: they are cut at three fifths of the feed.',
  });
}

export const torchJobs = (): Job[] => [gatePanel(), bracket()];
