/** What a person's hands find at each kind of simulated machine: switches, what can go wrong, and what lies there. */
import type { LengthUnit } from '@kerbe/core/length';
import type { MachineStatus, SimulatedWorld } from '@kerbe/core/link';
import type { ProcessName } from '@kerbe/core/process';
import { len } from '$lib/ui/format';

type Change = Record<string, unknown>;
interface Switch {
  name: string;
  on: boolean | undefined;
  change: Change;
}
interface HandsOn {
  lies: { one: string; at: { x: number; y: number; width: number; height: number; thickness: number } };
  /** How it finds the surface by itself, where nothing need be laid under its tool. */
  finds?: { method: 'torch' | 'focus'; says: string };
  /** Of what a sheet can be, where the machine cares. */
  materials?: readonly string[];
  switches(status: MachineStatus, world: SimulatedWorld, unit: LengthUnit): Switch[];
  faults(unit: LengthUnit): { name: string; fault: Change }[];
}

const ANY_FAULT = (unit: LengthUnit) => [
  { name: 'Limit switch hit', fault: { kind: 'limit', axis: 0 } },
  { name: `Lose ${len(3, unit)} of X`, fault: { kind: 'lost-steps', by: [3, 0, 0] } },
  { name: 'Cable out for 3 s', fault: { kind: 'link-drop', seconds: 3 } },
  { name: 'Controller resets', fault: { kind: 'reset' } },
];
const lasting = (kind: string, wrong: string, right: string) => [
  { name: wrong, fault: { kind, on: true } },
  { name: right, fault: { kind, on: false } },
];

export const HANDS: Record<ProcessName, HandsOn> = {
  router: {
    lies: { one: 'board', at: { x: 320, y: 240, width: 300, height: 160, thickness: 18 } },
    switches: ({ spindle }, world) => [
      { name: 'Vacuum', on: world.vacuum, change: { vacuum: !world.vacuum } },
      { name: 'Dust extraction', on: world.dust, change: { dust: !world.dust } },
      { name: 'Location pins up', on: world.pinsUp, change: { pinsUp: !world.pinsUp } },
      { name: 'Lid open', on: world.lidOpen, change: { lidOpen: !world.lidOpen } },
      { name: 'Spindle box', on: spindle?.power, change: { spindlePower: !spindle?.power } },
      { name: 'Clip on the bit', on: world.probeClip, change: { probeClip: !world.probeClip } },
    ],
    faults: (unit) => [
      ...ANY_FAULT(unit),
      ...lasting('slow-spindle', 'Spindle turns slow', 'Spindle as it should'),
      ...lasting('probe-wire', 'Probe wire off', 'Probe wire whole'),
    ],
  },
  torch: {
    lies: { one: 'plate', at: { x: 200, y: 150, width: 300, height: 200, thickness: 3 } },
    finds: { method: 'torch', says: 'Touch the plate where the torch stands' },
    switches: (_, { table }, unit) =>
      table
        ? [
            { name: 'Work lead on the plate', on: table.ground, change: { ground: !table.ground } },
            { name: 'Air for the torch', on: table.air, change: { air: !table.air } },
            { name: 'Water or fan', on: table.water, change: { water: !table.water } },
            { name: `Kerf of ${len(table.kerf || 1.5, unit)} set at the table`, on: table.kerf > 0, change: { kerf: table.kerf > 0 ? 0 : 1.5 } },
          ]
        : [],
    faults: (unit) => [
      ...ANY_FAULT(unit),
      ...lasting('arc-lost', 'The arc goes out', 'It burns as it should'),
      ...lasting('no-arc', 'No arc', 'It strikes again'),
    ],
  },
  laser: {
    lies: { one: 'sheet', at: { x: 100, y: 100, width: 120, height: 80, thickness: 3 } },
    finds: { method: 'focus', says: 'Find the focus where the head stands' },
    materials: ['birch ply', 'MDF', 'clear acrylic', 'slate', 'PVC foam'],
    switches: ({ beam }, { lidOpen, cabinet }) =>
      cabinet
        ? [
            { name: 'Lid open', on: lidOpen, change: { lidOpen: !lidOpen } },
            { name: 'Key', on: cabinet.key, change: { key: !cabinet.key } },
            { name: 'Air', on: cabinet.air, change: { air: !cabinet.air } },
            { name: 'Extraction', on: cabinet.extraction, change: { extraction: !cabinet.extraction } },
            { name: 'Pointer', on: beam?.pointer, change: { pointer: !beam?.pointer } },
          ]
        : [],
    faults: (unit) => [...ANY_FAULT(unit), ...lasting('no-beam', 'The tube stays dark', 'It shines again')],
  },
};
