/** Sums of the router: grooves, floors, chips, ways down, and what must fit into what. */
import { chipLoad, depthForStroke, feedFor, grooveWidth, ridgeOf, surfaceSpeed, thinnedChip, type PointedBit } from '../bits/index.ts';
import { Bit } from '../bits/schema.ts';
import type { Sum } from './sum.ts';

const vee = (angle: number, tipFlat = 0) => Bit.parse({ kind: 'v', id: 'v', angle, diameter: 200, tipFlat }) as PointedBit;
const ball = (diameter: number) => Bit.parse({ kind: 'ball', id: 'b', diameter });
const degrees = (radians: number) => (radians * 180) / Math.PI;

export const CUTTING: readonly Sum[] = [
  {
    id: 'v-depth',
    group: 'Carving',
    title: 'Depth for a width',
    asks: 'How deep does a V go for a stroke of that width?',
    words: ['v-carve', 'groove', 'stroke', 'angle'],
    fields: [
      { key: 'width', label: 'Stroke width', as: 'length', value: 12, min: 0 },
      { key: 'angle', label: 'Included angle', as: 'number', unit: 'degrees', value: 60, min: 1, max: 170 },
      { key: 'tip', label: 'Tip flat', as: 'length', value: 0, min: 0, max: 100 },
    ],
    source: 'geometry: (width - flat) / (2·tan(angle/2))',
    results: ({ width, angle, tip }) => [{ label: 'Depth', as: 'length', value: depthForStroke(vee(angle, tip), width), into: 'floorDepth' }],
  },
  {
    id: 'v-width',
    group: 'Carving',
    title: 'Width of a groove',
    asks: 'How wide is a V groove of that depth?',
    words: ['v-carve', 'stroke', 'angle', 'line'],
    fields: [
      { key: 'depth', label: 'Depth', as: 'length', value: 3, min: 0 },
      { key: 'angle', label: 'Included angle', as: 'number', unit: 'degrees', value: 90, min: 1, max: 170 },
      { key: 'tip', label: 'Tip flat', as: 'length', value: 0, min: 0, max: 100 },
    ],
    source: 'geometry: flat + 2·depth·tan(angle/2)',
    results: ({ depth, angle, tip }) => [{ label: 'Width', as: 'length', value: grooveWidth(vee(angle, tip), depth) }],
  },
  {
    id: 'fades',
    group: 'Carving',
    title: 'Will a shallow carve fade?',
    asks: 'The board is uneven: what is left of a stroke where it lies low?',
    words: ['spread', 'flat', 'thickness', 'engraving'],
    fields: [
      { key: 'high', label: 'Thickest reading', as: 'length', value: 18.4, min: 0 },
      { key: 'low', label: 'Thinnest reading', as: 'length', value: 18, min: 0 },
      { key: 'depth', label: 'Depth of the carve', as: 'length', value: 0.6, min: 0 },
      { key: 'angle', label: 'Included angle', as: 'number', unit: 'degrees', value: 60, min: 1, max: 170 },
    ],
    source: 'geometry, with zero on the thickest place',
    results: ({ high, low, depth, angle }) => {
      const left = Math.max(0, depth - Math.max(0, high - low));
      return [
        { label: 'Spread', as: 'length', value: Math.max(0, high - low) },
        { label: 'Depth left at the lowest place', as: 'length', value: left, says: left === 0 ? 'the stroke is gone there' : undefined },
        { label: 'Groove width there', as: 'length', value: grooveWidth(vee(angle), left) },
      ];
    },
  },
  {
    id: 'ridge',
    group: 'Milling',
    title: 'Ridge on a floor',
    asks: 'How high is the ridge that passes leave?',
    words: ['cusp', 'scallop', 'step-over', 'finish', 'ball nose'],
    fields: [
      { key: 'diameter', label: 'Ball nose diameter', as: 'length', value: 6.35, min: 0.1, max: 100 },
      { key: 'step', label: 'Step-over', as: 'length', value: 0.635, min: 0.001 },
      { key: 'most', label: 'Allowed ridge height', as: 'length', value: 0.02, min: 0.0001 },
    ],
    source: 'geometry: R - sqrt(R² - (step/2)²)',
    results: ({ diameter, step, most }) => {
      const r = diameter / 2;
      return [
        { label: 'Ridge', as: 'length', value: ridgeOf(ball(diameter), Math.min(step, diameter)) },
        {
          label: 'Step-over for that ridge',
          as: 'length',
          value: 2 * Math.sqrt(Math.max(0, r * r - Math.max(0, r - most) ** 2)),
          into: 'stepover',
        },
      ];
    },
  },
  {
    id: 'chip',
    group: 'Milling',
    title: 'Feed and chip',
    asks: 'What chip does that feed make, and which feed makes the chip I want?',
    words: ['chip load', 'rpm', 'surface speed', 'flutes', 'thinning'],
    fields: [
      { key: 'diameter', label: 'Diameter', as: 'length', value: 6.35, min: 0.1 },
      { key: 'speed', label: 'Spindle', as: 'number', unit: 'rev/min', value: 18_000, min: 1, max: 60_000 },
      { key: 'flutes', label: 'Flutes', as: 'number', value: 2, min: 1, max: 12 },
      { key: 'feed', label: 'Feed', as: 'feed', value: 3600, min: 1 },
      { key: 'step', label: 'Step-over', as: 'length', value: 2.5, min: 0.01 },
      { key: 'load', label: 'Wanted chip load', as: 'length', value: 0.1, min: 0.001 },
    ],
    source: 'feed per tooth, any machinery handbook: f = F/(n·z), v = π·d·n; the thinned chip is derived',
    results: ({ diameter, speed, flutes, feed, step, load }) => {
      const chip = chipLoad(feed, speed, flutes);
      return [
        { label: 'Chip load', as: 'length', value: chip, decimals: 3 },
        { label: 'What it measures at that step-over', as: 'length', value: thinnedChip(chip, step, diameter), decimals: 3 },
        { label: 'Surface speed', as: 'number', value: surfaceSpeed(diameter, speed), unit: 'm/min', decimals: 0 },
        { label: 'Feed for the wanted chip load', as: 'feed', value: feedFor(speed, flutes, load), into: 'feed' },
      ];
    },
  },
  {
    id: 'ramp',
    group: 'Milling',
    title: 'Ramp and helix',
    asks: 'How steep is the way down?',
    words: ['plunge', 'entry', 'angle', 'pitch'],
    fields: [
      { key: 'depth', label: 'Down by', as: 'length', value: 3, min: 0 },
      { key: 'length', label: 'Over a length of', as: 'length', value: 40, min: 0.1 },
      { key: 'diameter', label: 'Helix diameter', as: 'length', value: 10, min: 0.1 },
      { key: 'pitch', label: 'Down with each turn', as: 'length', value: 1.5, min: 0 },
    ],
    source: 'geometry: atan(depth/length), atan(pitch/(π·d))',
    results: ({ depth, length, diameter, pitch }) => [
      { label: 'Ramp angle', as: 'number', value: degrees(Math.atan2(depth, length)), unit: 'degrees', decimals: 2 },
      { label: 'Helix angle', as: 'number', value: degrees(Math.atan2(pitch, Math.PI * diameter)), unit: 'degrees', decimals: 2 },
      { label: 'Turns of it', as: 'number', value: pitch > 0 ? depth / pitch : 0, decimals: 1 },
    ],
  },
  {
    id: 'through',
    group: 'Board',
    title: 'Depth of a through cut',
    asks: 'How deep must it go to come through everywhere, and what of the spoilboard does it take?',
    words: ['allowance', 'spoilboard', 'thickness'],
    fields: [
      { key: 'high', label: 'Thickest reading', as: 'length', value: 18.4, min: 0 },
      { key: 'low', label: 'Thinnest reading', as: 'length', value: 18, min: 0 },
      { key: 'more', label: 'Depth into the spoilboard', as: 'length', value: 0.2, min: 0 },
      { key: 'passes', label: 'Depth per pass', as: 'length', value: 6, min: 0.1 },
    ],
    source: 'arithmetic, with zero on top of the thickest place',
    results: ({ high, low, more, passes }) => [
      { label: 'Depth', as: 'length', value: high + more, into: 'depth' },
      { label: 'Passes', as: 'number', value: Math.ceil((high + more) / passes - 1e-9), decimals: 0 },
      { label: 'Into the spoilboard where it is thinnest', as: 'length', value: more + Math.max(0, high - low) },
    ],
  },
  {
    id: 'fit',
    group: 'Board',
    title: 'What fits into what',
    asks: 'A part goes into a slot or a pocket: how large, and how deep?',
    words: ['slot', 'pocket', 'plug', 'recess', 'inlay', 'tolerance', 'gap'],
    fields: [
      { key: 'part', label: 'Part measures', as: 'length', value: 6, min: 0 },
      { key: 'asked', label: 'A slot was drawn', as: 'length', value: 10, min: 0 },
      { key: 'measured', label: 'and measures', as: 'length', value: 9.9, min: 0 },
      { key: 'gap', label: 'Wanted gap, in all', as: 'length', value: 0.1, min: 0 },
      { key: 'thickness', label: 'Thickness of the part', as: 'length', value: 4, min: 0 },
      { key: 'proud', label: 'It stands proud by', as: 'length', value: 0.2, min: 0 },
    ],
    source: 'arithmetic: what a slot came out smaller is drawn larger',
    results: ({ part, asked, measured, gap, thickness, proud }) => [
      { label: 'Draw the recess', as: 'length', value: part + gap + (asked - measured) },
      { label: 'or draw the plug, for a recess of the part’s size', as: 'length', value: Math.max(0, part - gap - (asked - measured)) },
      { label: 'Depth of the recess', as: 'length', value: Math.max(0, thickness - proud), into: 'depth' },
    ],
  },
  {
    id: 'v-inlay',
    group: 'Carving',
    title: 'V inlay',
    asks: 'How deep are the pocket and the plug of a V inlay?',
    words: ['inlay', 'plug', 'glue', 'start depth'],
    fields: [
      { key: 'pocket', label: 'Depth of the pocket', as: 'length', value: 5, min: 0 },
      { key: 'glue', label: 'Glue gap below', as: 'length', value: 1, min: 0 },
      { key: 'saw', label: 'Saw allowance above it', as: 'length', value: 1.5, min: 0 },
    ],
    source: 'common practice: the plug starts as deep as the pocket goes, less the room for glue',
    results: ({ pocket, glue, saw }) => [
      { label: 'Plug starts at', as: 'length', value: Math.max(0, pocket - glue), into: 'startDepth' },
      { label: 'and goes on by', as: 'length', value: glue + saw },
      { label: 'Deepest of the plug', as: 'length', value: Math.max(0, pocket - glue) + glue + saw },
    ],
  },
];
