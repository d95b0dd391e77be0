/** For tests: the world of a simulated router with nothing on its bed and every switch as it is left at night. */
import type { SimulatedWorld } from './machine.ts';

export const BARE_WORLD: SimulatedWorld & Required<Omit<SimulatedWorld, 'table' | 'cabinet'>> = {
  board: null,
  bit: null,
  pin: false,
  plate: null,
  probeClip: false,
  block: null,
  clamps: [],
  lidOpen: false,
  vacuum: true,
  dust: true,
  pinsUp: false,
  fitting: 0,
  crash: null,
  revision: 0,
};
