/** What boards, plates and sheets can be chosen of: the shop's materials and the usual ones. */
import { allMaterials, nameInJob, type ShopMaterial } from '@kerbe/core/board/materials';
import type { ProcessName } from '@kerbe/core/process';

/** Names for a kind of machine, as jobs write them; `own` is what this board is called. */
export const materialsFor = (process: ProcessName, own: string, shop: readonly ShopMaterial[]): string[] => [
  ...new Set([
    ...allMaterials(shop)
      .filter(({ on }) => on.includes(process))
      .map(nameInJob),
    own,
  ]),
];
