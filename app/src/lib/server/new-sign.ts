/** The document a new sign begins as. */
import { readJob, type Job } from '@kerbe/core/job';
import { SHOP_BITS } from './usual-bits';

/** A fresh sign: a board, a pair of bits and the cuts most signs have; the words are still to come. */
export function newSign(name: string): Job {
  const reading = readJob({
    kerbe: 3,
    name,
    board: { width: 400, height: 150, thickness: 18, material: 'pine' },
    items: {
      words: { kind: 'text', id: 'words', name: 'Words', x: 200, y: 75, text: '', face: 'cinzel', capHeight: 38 },
      edge: { kind: 'rectangle', id: 'edge', name: 'Sign outline', x: 200, y: 75, width: 370, height: 120, radius: 12 },
    },
    itemOrder: ['words', 'edge'],
    outline: 'edge',
    tools: SHOP_BITS,
    cuts: {
      carve: { kind: 'vcarve', id: 'carve', name: 'Carve the words', on: 'art', tool: 'v60', feed: 2400, plunge: 1200, speed: 18000 },
      edge: {
        kind: 'profile',
        id: 'edge',
        name: 'Cut out the sign',
        on: 'outline',
        tool: 'end6',
        feed: 3000,
        plunge: 900,
        speed: 18000,
        depthPerPass: 4,
        tabs: 4,
      },
    },
    cutOrder: ['carve', 'edge'],
    machine: { name: 'Simulated router', warmUpSeconds: 60 },
  });
  if (!reading.ok) throw new Error(reading.why.join(' '));
  return reading.job;
}
