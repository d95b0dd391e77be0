/**
 * Suggested feeds for a bit in a material. Chip loads are common practice, from memory: a range per
 * mm of cutting diameter, which is how makers' tables grow; the formula F = n·z·f is that of any
 * machinery handbook. They are a start: the bit's maker and a trial cut have the last word.
 */
import { chipLoad, cuttingWidth, feedFor, grooveWidth, isPointed, surfaceSpeed, thinnedChip } from '../bits/index.ts';
import type { Bit } from '../bits/schema.ts';
import type { Machine } from '../machine/index.ts';

interface MaterialFacts {
  /** Chip load per tooth and mm of diameter, from and to. */
  load: [number, number];
  /** Spindle, rev/min. */
  speed: number;
  /** Depth of a pass in diameters. */
  deep: number;
}

export const MATERIALS: Record<string, MaterialFacts> = {
  pine: { load: [0.018, 0.034], speed: 18_000, deep: 1 },
  cedar: { load: [0.018, 0.034], speed: 18_000, deep: 1 },
  oak: { load: [0.012, 0.026], speed: 18_000, deep: 0.7 },
  walnut: { load: [0.012, 0.026], speed: 18_000, deep: 0.7 },
  maple: { load: [0.011, 0.024], speed: 18_000, deep: 0.6 },
  ply: { load: [0.016, 0.034], speed: 18_000, deep: 0.8 },
  mdf: { load: [0.02, 0.04], speed: 18_000, deep: 1 },
  foam: { load: [0.03, 0.06], speed: 18_000, deep: 2 },
  acrylic: { load: [0.012, 0.026], speed: 16_000, deep: 0.5 },
  slate: { load: [0.002, 0.006], speed: 12_000, deep: 0.1 },
  brass: { load: [0.004, 0.009], speed: 14_000, deep: 0.1 },
  aluminium: { load: [0.004, 0.009], speed: 16_000, deep: 0.15 },
};

/** The material a name speaks of (a slate-grey board is none of slate); names nobody knows are reckoned as hard wood. */
export function materialOf(name: string): { key: string; known: boolean } {
  const lower = name.toLowerCase();
  const key = Object.keys(MATERIALS).find((one) => new RegExp(`\\b${one}(?!-)`).test(lower));
  return key ? { key, known: true } : { key: 'oak', known: false };
}

export interface FeedAdvice {
  material: string;
  /** False: nobody knows the material's name, hard wood is meant. */
  known: boolean;
  /** Usual chip load per tooth, mm, from and to. */
  load: [number, number];
  feed: number;
  plunge: number;
  speed: number;
  depthPerPass: number;
  /** m/min at that speed. */
  surface: number;
  /** The feed is held down by the machine, and the chip is thinner than usual. */
  limited: boolean;
  source: string;
}

/** Diameter that carries the cut, mm: of a V that of its groove a few mm down. Surface speed is reckoned there. */
export const workingDiameter = (bit: Bit): number => (isPointed(bit) ? Math.min(bit.diameter, Math.max(0.5, grooveWidth(bit, 3))) : cuttingWidth(bit));

/** @param stepover of the passes, mm, when known: narrow ones thin the chip and allow a faster feed */
export function suggestFeeds(bit: Bit, material: string, machine: Pick<Machine, 'maxSpeed' | 'maxSpindle'>, stepover?: number): FeedAdvice {
  const { key, known } = materialOf(material);
  const facts = MATERIALS[key];
  const d = workingDiameter(bit);
  const preset = Object.entries(bit.feeds ?? {}).find(([name]) => name === material || materialOf(name).key === key)?.[1];
  const load: [number, number] = [facts.load[0] * d, facts.load[1] * d];
  const drag = bit.kind === 'drag';
  // A drill turns slower the wider it is; what it takes a turn is small.
  const wanted = drag ? 0 : bit.kind === 'drill' ? Math.min(facts.speed, 40_000 / d) : facts.speed;
  const speed = round(preset?.speed ?? Math.min(wanted, machine.maxSpindle), 100);
  const thin = stepover ? thinnedChip(1, stepover, d) : 1;
  const asked = preset?.feed ?? (drag ? 1500 : feedFor(speed, bit.flutes, (load[0] + load[1]) / 2) / Math.max(0.4, thin));
  const most = Math.min(machine.maxSpeed[0], machine.maxSpeed[1]);
  const feed = Math.max(10, round(Math.min(asked, most), 10));
  const plunge = Math.max(10, round(Math.min(preset?.plunge ?? (drag ? 600 : bit.kind === 'drill' ? feed : feed / 3), machine.maxSpeed[2]), 10));
  return {
    material: key,
    known,
    load,
    feed,
    plunge,
    speed,
    depthPerPass: preset?.depthPerPass ?? Math.max(0.1, Math.floor(facts.deep * cuttingWidth(bit) * 10 + 1e-9) / 10),
    surface: surfaceSpeed(d, speed),
    limited: asked > most && chipLoad(feed, speed, bit.flutes) < load[0],
    source: preset ? preset.source || 'the shop’s own preset' : 'common practice',
  };
}

const round = (value: number, to: number): number => Math.round(value / to) * to;
