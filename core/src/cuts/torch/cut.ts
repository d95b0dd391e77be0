/** The figures of a torch cut. */
import { z } from 'zod';
import { id, notNegative, positive } from '../../fields/index.ts';
import { common, feed } from '../fields.ts';

/** Where a contour was begun by hand: a place within the box of a drawn thing, 0 to 1 each way, so that it stays when the thing changes. */
export const StartPlace = z.strictObject({ item: id, u: z.number().min(-1).max(2), v: z.number().min(-1).max(2) });

export const TorchCut = z.strictObject({
  ...common,
  feed: feed.default(3900),
  /** Down from pierce height to cut height, mm/min. */
  plunge: feed.default(2500),
  kind: z.literal('torch'),
  /** No spindle turns. */
  speed: z.literal(0).default(0),
  /** `auto`: outside of a part and inside of its openings, and so on inwards. */
  side: z.enum(['auto', 'outside', 'inside', 'on']).default('auto'),
  /** Width the arc takes, mm. */
  kerf: positive.max(20).default(1.5),
  /** Who moves the torch off the line by half of it: the program, or the machine by its own offset. One of the two, never both. */
  kerfBy: z.enum(['program', 'machine']).default('program'),
  lead: z.enum(['line', 'arc', 'straight', 'none']).default('arc'),
  leadIn: positive.max(200).default(4),
  /** On past the end, into the scrap, mm; often none. */
  leadOut: notNegative.max(200).default(0),
  /** Contours begun by hand. */
  startsAt: z.array(StartPlace).max(2_000).default([]),
  /** The pierce leaves a crater so far round: it must not touch a part, mm. (Common practice: 2.5, more in thick plate.) */
  crater: notNegative.max(50).default(2.5),
  /** Holes are cut so far past their start, and the arc goes off so far before that, mm. (Common practice.) */
  overcut: notNegative.max(50).default(2),
  offEarly: notNegative.max(50).default(1),
  /** At outside corners sharper than `cornerAngle` the torch runs on into the scrap and comes back. */
  corners: z.enum(['plain', 'triangle', 'round']).default('plain'),
  /** Degrees between the edges of the part. */
  cornerAngle: z.number().min(1).max(170).default(100),
  cornerLoop: positive.max(100).default(5),
  /** Share of the feed round sharp corners, and in holes narrower than `smallHole`, mm. (Common practice: 60 % in small holes.) */
  cornerFeed: z.number().min(0.1).max(1).default(1),
  smallHole: notNegative.max(1_000).default(12),
  smallHoleFeed: z.number().min(0.1).max(1).default(0.6),
  /** Above the plate, mm; seconds; volts of the arc. */
  pierceHeight: positive.max(50).default(3.8),
  pierceDelay: notNegative.max(60).default(0.3),
  cutHeight: positive.max(50).default(1.5),
  volts: positive.max(500).default(122),
  /** Height control by the arc's voltage: only where the torch moves at speed. */
  heightControl: z.boolean().default(true),
  /** The plate is found by touch before each pierce; or again only so far from the last touch, mm; or never. */
  touch: z.enum(['each', 'far', 'never']).default('each'),
  touchAfter: positive.max(10_000).default(150),
  /** How far the float switch travels before it speaks, mm: subtracted from every touch. */
  floatTravel: notNegative.max(50).default(0),
  /** Left uncut at the end of each part's outline to hold it, mm; 0: parts come free. (Common practice: half a kerf to a whole one.) */
  microTab: notNegative.max(20).default(0),
  /** Neighbours are skipped, so that heat spreads: it costs travel. */
  spreadHeat: z.boolean().default(false),
  /** Outlines this near to an edge of the plate are begun there, without a pierce, mm; 0: none. (Common practice in thick plate.) */
  edgeStart: notNegative.max(2_000).default(0),
  /** From one outline on to the next through the scrap, the arc on, where they are this near, mm; 0: each is pierced. */
  chain: notNegative.max(500).default(0),
  /** Travel keeps off what has come free, where there is a way round it. */
  rapids: z.enum(['round', 'straight']).default('round'),
});
export type TorchCut = z.infer<typeof TorchCut>;
