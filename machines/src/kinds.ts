/** The simulated machines there are: a head and a world for each kind, on the controller they share. */
import { Machine } from '@kerbe/core/job';
import { LASER_BENCH, TORCH_TABLE } from '@kerbe/core/machine';
import type { ProcessName } from '@kerbe/core/process';
import { Controller } from './controller/controller.ts';
import type { Head } from './controller/head.ts';
import { BARE_BED, LaserHead, type LaserWorld } from './laser/head.ts';
import { RouterHead } from './router/head.ts';
import { BARE_TABLE, TorchHead, type TorchWorld } from './torch/head.ts';
import { BARE, World, type WorldSettings } from './router/world.ts';

/** A router with a world of its own. */
export function router(settings: WorldSettings = BARE, limits = Machine.parse({ name: 'Simulated router' })): Controller<RouterHead> {
  return new Controller(new RouterHead(new World(settings), limits), limits);
}

/** A torch table with a plate of its own. */
export function torch(settings: TorchWorld = BARE_TABLE, limits = TORCH_TABLE): Controller<TorchHead> {
  return new Controller(new TorchHead(settings), limits);
}

/** A laser with a sheet of its own. */
export function laser(settings: LaserWorld = BARE_BED, limits = LASER_BENCH): Controller<LaserHead> {
  return new Controller(new LaserHead(settings, limits), limits);
}

/** What stands there when a machine is switched on, of the kinds that are simulated. */
export const KINDS: Partial<Record<ProcessName, () => Controller<Head>>> = {
  router: () => router({ ...BARE, board: { x: 320, y: 240, width: 610, height: 190, thickness: 19 } }),
  torch: () => torch({ ...BARE_TABLE, board: { x: 180, y: 220, width: 600, height: 400, thickness: 3 } }),
  laser: () => laser({ ...BARE_BED, board: { x: 60, y: 80, width: 300, height: 200, thickness: 3 } }),
};
