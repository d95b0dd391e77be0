/** What a cost is made of, as it is read. */
import type { Cost } from '@kerbe/core/day';

/** @param money a sum with the shop's currency */
export const costWords = ({ material, machine, bits, hands }: Cost, money: (sum: number) => string): string =>
  [
    material === null ? 'material without a price' : `material ${money(material)}`,
    `machine ${money(machine)}`,
    ...(bits === null ? [] : [`wear ${money(bits)}`]),
    `hands ${money(hands)}`,
  ].join(', ');
