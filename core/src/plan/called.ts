import type { CutKind } from '../job/index.ts';

/** Kinds of cut in words. */
export const CALLED: Record<CutKind, string> = {
  vcarve: 'V-carve',
  profile: 'profile',
  pocket: 'pocket',
  drill: 'drill',
  engrave: 'engrave',
  drag: 'drag-engrave',
  recess: 'recess',
  plug: 'plug',
  surface: 'surface',
  chamfer: 'chamfer',
};
