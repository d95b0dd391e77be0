/** What a beam is set to for a material: from a preset of its head, or reckoned from the energy the material takes. */
import type { BeamPreset, Bit } from '../bits/schema.ts';
import { responseOf } from './energy.ts';

/** What a beam does to a sheet: it goes through, draws lines, or burns areas in rows. */
export type BeamWork = 'through' | 'lines' | 'areas';

export interface BeamAdvice {
  /** mm/min. */
  feed: number;
  /** Per cent of full power. */
  power: number;
  passes: number;
  interval?: number;
  linesPerMm?: number;
  focus?: number;
  kerf?: number;
  /** Where it comes from, in words, and what is done before and after. */
  why: string;
  care: string;
}

/** What the power of a cut is, of full: the rest is kept for a lens that gets dull. Marks burn at a moderate feed. (Common practice.) */
const CUT = { power: 85, reserve: 1.25, slowest: 120, swiftest: 6_000 };
const MARK = { feed: 3_000, least: 5, most: 80 };
/** The energy of a line is as high in its middle as if it lay over so much of the spot. (Derived: a Gaussian beam.) */
const CORE = 0.8;
const PITCH = 0.1;

/** The preset of a head for a material, a thickness and a kind of cut: the newest that is of that thickness, or of any. */
export function presetFor(head: Bit, material: string, thickness: number, kind: string): BeamPreset | undefined {
  if (head.kind !== 'head') return undefined;
  return head.presets?.findLast(
    (one) => one.kind === kind && one.material === material && (one.thickness === undefined || Math.abs(one.thickness - thickness) < 0.26),
  );
}

/** The head with one more preset; it takes the place of one of that kind, material and thickness. Any other tool as it is. */
export const withPreset = (head: Bit, preset: BeamPreset): Bit =>
  head.kind === 'head'
    ? {
        ...head,
        presets: [
          ...(head.presets ?? []).filter((one) => one.kind !== preset.kind || one.material !== preset.material || one.thickness !== preset.thickness),
          preset,
        ],
      }
    : head;

/**
 * Starting figures for a kind of cut, as its definition says what it does; undefined when the tool is no laser head. Energies are those of the proof, from memory: the test card decides.
 * A raster takes P/(v·pitch), a line P/v for each mm. (Derived.)
 */
export function suggestBeam(
  head: Bit,
  material: string,
  thickness: number,
  { kind, burns = 'areas' }: { kind: string; burns?: BeamWork },
  pitch = PITCH,
): BeamAdvice | undefined {
  if (head.kind !== 'head') return undefined;
  const preset = presetFor(head, material, thickness, kind);
  if (preset) {
    const { feed, power, passes = 1, interval, linesPerMm, focus, kerf, source, date, care = '' } = preset;
    return { feed, power, passes, interval, linesPerMm, focus, kerf, care, why: `this head’s preset, ${source}${date ? `, ${date}` : ''}` };
  }
  const { full, throughPerMm } = responseOf(material);
  const reckoned = { why: `reckoned for ${material} from memory`, care: '' };
  const line = CORE * Math.max(head.diameter, 0.05);
  if (burns === 'through') {
    const need = throughPerMm * thickness * line * CUT.reserve;
    const watts = (head.watts * CUT.power) / 100;
    const once = (60 * watts) / need;
    const passes = Math.min(20, Math.max(1, Math.ceil(CUT.slowest / once)));
    return { feed: neat(Math.min(CUT.swiftest, once * passes)), power: CUT.power, passes, ...reckoned };
  }
  const across = burns === 'lines' ? line : pitch;
  const share = (100 * full * across * MARK.feed) / 60 / head.watts;
  const power = Math.min(MARK.most, Math.max(MARK.least, Math.round(share)));
  // A head too weak for that feed goes slower; one too strong goes faster.
  const feed = neat((MARK.feed * power) / share);
  return { feed, power, passes: 1, ...reckoned };
}

/**
 * Energy that a cut lays on each mm of its way against what the sheet takes to be cut through: 1 and more goes through. Of a head of so many
 * watts, with the power in per cent and the feed in mm/min. (Derived: P/v; how materials take it is from memory.)
 */
export function throughShare(
  cut: { power: number; feed: number; passes: number },
  head: { watts: number; diameter: number },
  material: string,
  thickness: number,
): number {
  const gets = (60 * ((head.watts * cut.power) / 100) * cut.passes) / cut.feed;
  return gets / (responseOf(material).throughPerMm * thickness * CORE * Math.max(head.diameter, 0.05));
}

/** A frame is driven at this feed, mm/min. */
export const FRAME_FEED = 6_000;
/** Of the energy that a mark begins with, so much is still none: what is known of a material is from memory. */
const SURELY_NONE = 0.5;

/** Power in per cent from which on a line at the feed of a frame may leave a mark. (Derived: P/(v·d); how materials take it is from memory.) */
export function marksFrom(head: { watts: number; diameter: number }, material: string): number {
  const per = (60 * (head.watts / 100)) / FRAME_FEED / (CORE * Math.max(head.diameter, 0.05));
  return (SURELY_NONE * responseOf(material).begins) / per;
}

/** As one would set it: two figures. */
const neat = (feed: number): number => Number(feed.toPrecision(2));
