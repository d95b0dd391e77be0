/** What a board costs the shop: its material, the machine's time, and hands. */
import { boardPrice, type ShopMaterial } from '../board/materials.ts';
import { HANDS, type FinishingStep } from './day.ts';

export interface Rates {
  /** For an hour. */
  machine: number;
  hands: number;
}

export interface Cost {
  /** Null: the shop has no price for it. */
  material: number | null;
  machine: number;
  hands: number;
  /** Of what is known. */
  all: number;
}

/** @param seconds at the machine, changes of bit included. @param changes of bit */
export function costOf(
  board: { width: number; height: number },
  material: Pick<ShopMaterial, 'price'> | null,
  { seconds, changes, finishing }: { seconds: number; changes: number; finishing: readonly FinishingStep[] },
  rates: Rates,
): Cost {
  const of = material?.price == null ? null : boardPrice(board, material.price);
  const machine = (seconds / 3600) * rates.machine;
  // A board on and off, its zero, the first bit and every change; and what is done to it afterwards.
  const minutes = HANDS.load + HANDS.zero + HANDS.bit * (1 + changes) + finishing.reduce((sum, { hands }) => sum + hands, 0);
  const hands = (minutes / 60) * rates.hands;
  return { material: of, machine, hands, all: (of ?? 0) + machine + hands };
}
