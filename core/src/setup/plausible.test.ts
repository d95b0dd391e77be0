/** A zero that cannot be right is said, with its likely reason; one that can is let be. */
import { describe, expect, it } from 'vitest';
import { Job } from '../job/index.ts';
import { noSetup, type Setup } from '../link/index.ts';
import { kerbeLink, MachineProfile } from '../machine/index.ts';
import { zeroFaults, type ZeroInput } from './index.ts';

const job = Job.parse({
  kerbe: 4,
  name: 'Reed',
  board: { width: 300, height: 200, thickness: 18 },
  datum: { corner: 'lower-left', z: 'top' },
  items: {},
  itemOrder: [],
  tools: {},
  cuts: {},
  cutOrder: [],
});
const profile = MachineProfile.parse({ limits: { name: 'Router' }, link: kerbeLink('127.0.0.1', 1) });
const SENSOR = profile.sensor!.height;
const for_ = { job: 'one', at: '' };
/** The bit touched the sensor at -60: its tip is at the spoilboard at machine Z -60 - sensor. */
const READING = -60;
const onFace = (face: number) => READING - SENSOR + face;
const setup: Setup = {
  ...noSetup(),
  bed: { x: 180, y: 220 },
  bitReading: READING,
  bitFitted: 'v',
  zeroXY: { corner: 'lower-left', by: 'eye', angle: 0, ...for_ },
  zeroZ: { datum: 'top', method: 'plate', reading: READING, bit: 'v', ...for_ },
};
const right: ZeroInput = {
  job,
  profile,
  // A cut round the board runs 3 mm beside it.
  extents: { min: [-3, -3, -18], max: [303, 203, 5] },
  setup,
  offset: [180, 220, onFace(18)],
  there: null,
};
const faults = (over: Partial<ZeroInput>, set: Partial<Setup> = {}) => zeroFaults({ ...right, ...over, setup: { ...setup, ...set } });

describe('X and Y', () => {
  it('right, and right by eye: nothing is said', () => {
    expect(faults({})).toEqual([]);
    expect(faults({ offset: [190, 210, onFace(18)] })).toEqual([]);
  });
  it.each([
    ['right', [480, 220]],
    ['back', [180, 420]],
    ['left', [-120, 220]],
  ] as const)('another corner touched: the job runs off the board (%s)', (_, [x, y]) =>
    expect(faults({ offset: [x, y, onFace(18)] }).join()).toMatch(/runs (200|300) mm off the board in [XY]/),
  );
  it('a turn about the wrong way is off the board too', () =>
    expect(faults({}, { zeroXY: { ...setup.zeroXY!, angle: Math.PI / 2 } }).join()).toMatch(/off the board/));
  it('a board drawn where it lies but beyond the usable bed', () => {
    const { usable } = profile.limits;
    const x = usable.x + usable.width - 303 + 35;
    expect(faults({ offset: [x, 220, onFace(18)] }, { bed: { x, y: 220 } })).toEqual([expect.stringMatching(/reaches 35 mm beyond the part of the bed/)]);
    const fits = usable.x + usable.width - 303;
    expect(faults({ offset: [fits, 220, onFace(18)] }, { bed: { x: fits, y: 220 } })).toEqual([]);
  });
});

describe('Z', () => {
  it.each([
    ['on the spoilboard instead of the top', onFace(0), /18 mm below the top of the board - about the thickness of the board/],
    ['the plate counted twice', onFace(18 + 15), /15 mm above.*Touch plate/],
    ['something else', onFace(18 + 7), /7 mm above.*as thick as it is drawn/],
  ])('%s', (_, z, said) => expect(faults({ offset: [180, 220, z] })).toEqual([expect.stringMatching(said)]));
  it('an uneven board is no wrong zero; a thin one is measured by itself', () => {
    expect(faults({ offset: [180, 220, onFace(18 + 2.4)] })).toEqual([]);
    const thin = { ...job, board: { ...job.board, thickness: 3 } };
    expect(faults({ job: thin, offset: [180, 220, onFace(0)] })).toEqual([expect.stringMatching(/3 mm below/)]);
  });
  it('on the spoilboard for a program from there; on the top said to be it', () => {
    const zeroZ = { ...setup.zeroZ!, datum: 'spoilboard' as const };
    expect(faults({ offset: [180, 220, onFace(0)] }, { zeroZ })).toEqual([]);
    expect(faults({ offset: [180, 220, onFace(18)] }, { zeroZ })).toEqual([
      expect.stringMatching(/18 mm above the spoilboard - about the thickness of the board/),
    ]);
  });
  it('with a carrier under it the top lies higher by that, and a zero without it is told', () => {
    const carried = { ...job, board: { ...job.board, carrier: { thickness: 12 } } };
    expect(faults({ job: carried, offset: [180, 220, onFace(30)] })).toEqual([]);
    expect(faults({ job: carried, offset: [180, 220, onFace(18)] })).toEqual([expect.stringMatching(/12 mm below the top of the board/)]);
    // What lies there is as high as both together.
    const there = (thickness: number) => ({ x: 180, y: 220, width: 300, height: 200, thickness });
    expect(faults({ job: carried, offset: [180, 220, onFace(30)], there: there(30) })).toEqual([]);
    expect(faults({ job: carried, offset: [180, 220, onFace(30)], there: there(18) }).join()).toMatch(/with its carrier/);
  });
  it('nothing is known of it without a sensor or a reading', () => {
    expect(faults({ offset: [180, 220, 0] }, { bitReading: null })).toEqual([]);
    expect(faults({ offset: [180, 220, 0], profile: { ...profile, sensor: null } })).toEqual([]);
  });
});

it('a board of another size than the drawn one, where the machine shows it', () => {
  const there = { x: 180, y: 220, width: 300, height: 200, thickness: 18 };
  expect(faults({ there })).toEqual([]);
  expect(faults({ there: { ...there, thickness: 12 } })).toEqual([expect.stringMatching(/300 mm × 200 mm × 12 mm, and the drawn one 300 mm × 200 mm × 18 mm/)]);
  expect(faults({ there: { ...there, width: 280 } })).toHaveLength(1);
});
