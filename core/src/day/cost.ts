/** What a board costs the shop: its material, the machine's time, what is worn off its tools, and hands. */
import { boardPrice, type ShopMaterial } from '../board/materials.ts';
import { HANDS, type FinishingStep } from './day.ts';

export interface Rates {
  /** For an hour. */
  machine: number;
  hands: number;
}

/** What it costs to have a tool sharp or new again, and what it does until then: null where the shop gives it no end. */
export interface Renewal {
  price: number;
  /** Hours under power, and how often it is switched on: pierces of a nozzle. */
  life: number | null;
  strikesLife: number | null;
}

/** What a tool does in a job or did in a run. */
export interface Worn {
  /** By the crib's id. */
  bit: string;
  seconds: number;
  strikes?: number;
}

export interface Cost {
  /** Null: the shop has no price for it. */
  material: number | null;
  machine: number;
  /** Null: of none of its tools is known both what it does and what it costs. */
  bits: number | null;
  hands: number;
  /** Of what is known. */
  all: number;
}

/** The share of each tool's renewal that its work takes: by hours or by pierces, whichever wears it more. Null where nothing is known of any. */
export function wearCost(worn: readonly Worn[], renewals: Readonly<Record<string, Renewal>>): number | null {
  const costs = [...new Set(worn.map(({ bit }) => bit))].flatMap((id) => {
    const known = renewals[id];
    if (!known || (known.life === null && known.strikesLife === null)) return [];
    const done = worn.filter(({ bit }) => bit === id);
    const share = (of: (one: Worn) => number, life: number | null) => (life === null ? 0 : done.reduce((sum, one) => sum + of(one), 0) / life);
    return [
      known.price *
        Math.max(
          share(({ seconds }) => seconds / 3600, known.life),
          share(({ strikes = 0 }) => strikes, known.strikesLife),
        ),
    ];
  });
  return costs.length > 0 ? costs.reduce((sum, cost) => sum + cost, 0) : null;
}

/** @param seconds at the machine, changes of bit included. @param changes of bit. @param bits what is worn off its tools */
export function costOf(
  board: { width: number; height: number },
  material: Pick<ShopMaterial, 'price'> | null,
  { seconds, changes, finishing, bits }: { seconds: number; changes: number; finishing: readonly FinishingStep[]; bits: number | null },
  rates: Rates,
): Cost {
  const of = material?.price == null ? null : boardPrice(board, material.price);
  const machine = (seconds / 3600) * rates.machine;
  // A board on and off, its zero, the first bit and every change; and what is done to it afterwards.
  const minutes = HANDS.load + HANDS.zero + HANDS.bit * (1 + changes) + finishing.reduce((sum, { hands }) => sum + hands, 0);
  const hands = (minutes / 60) * rates.hands;
  return { material: of, machine, bits, hands, all: (of ?? 0) + machine + (bits ?? 0) + hands };
}
