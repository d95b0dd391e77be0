/** What a person's hands and bad luck do to the simulated router: boards, bits, switches, faults to order. */
import { Bit } from '@kerbe/core/job';
import { z } from 'zod';
import type { Router } from './machine.ts';

const position = z.number().min(-5000).max(5000);
const Bench = z.strictObject({
  estop: z.boolean().optional(),
  rate: z.number().gt(0).max(10_000).optional(),
  board: z
    .strictObject({ x: position, y: position, width: z.number().gt(0).max(3000), height: z.number().gt(0).max(3000), thickness: z.number().gt(0).max(120) })
    .nullable()
    .optional(),
  bit: z
    .strictObject({ shape: Bit, stickOut: z.number().gt(0).max(150), seating: z.enum(['good', 'bottomed', 'short']).optional(), pin: z.boolean().optional() })
    .nullable()
    .optional(),
  plate: z
    .strictObject({ x: position, y: position, thickness: z.number().gt(0).max(60) })
    .nullable()
    .optional(),
  block: z
    .strictObject({
      corner: z.enum(['lower-left', 'lower-right', 'upper-left', 'upper-right']),
      size: z.number().gt(5).max(200),
      lip: z.number().gt(0).max(60),
      thickness: z.number().gt(0).max(60),
    })
    .nullable()
    .optional(),
  probeClip: z.boolean().optional(),
  clamps: z
    .array(
      z.strictObject({ x: position, y: position, width: z.number().gt(0).max(2000), depth: z.number().gt(0).max(2000), height: z.number().gt(0).max(150) }),
    )
    .max(100)
    .optional(),
  lidOpen: z.boolean().optional(),
  vacuum: z.boolean().optional(),
  vacuumHeld: z.boolean().optional(),
  dust: z.boolean().optional(),
  pinsUp: z.boolean().optional(),
  spindlePower: z.boolean().optional(),
  /** Faults to order: once, or from now on. */
  fault: z
    .discriminatedUnion('kind', [
      z.strictObject({ kind: z.literal('limit'), axis: z.int().min(0).max(2) }),
      z.strictObject({ kind: z.literal('lost-steps'), by: z.tuple([z.number(), z.number(), z.number()]) }),
      z.strictObject({ kind: z.literal('slow-spindle'), on: z.boolean() }),
      z.strictObject({ kind: z.literal('probe-wire'), on: z.boolean() }),
      z.strictObject({ kind: z.literal('link-drop'), seconds: z.number().min(0).max(60) }),
      z.strictObject({ kind: z.literal('reset') }),
    ])
    .optional(),
  cell: z.number().min(0.02).max(5).optional(),
});

type Fault = NonNullable<z.infer<typeof Bench>['fault']>;

/** What can be switched while it moves: everything else needs hands on the bed. */
const SWITCHES = new Set(['lidOpen', 'vacuum', 'dust', 'spindlePower', 'cell']);

/** What a fault does to the wire, which is the process's own. */
interface Wire {
  /** The cable is out for so many seconds. */
  drop: (seconds: number) => void;
  /** Lines that wait for room are forgotten. */
  forget: () => void;
}

export class Hands {
  private readonly router: Router;
  private readonly wire: Wire;

  constructor(router: Router, wire: Wire) {
    this.router = router;
    this.wire = wire;
  }

  /** Carries out a change, given as JSON. Gives why not, or null. */
  change(json: string): string | null {
    const { router } = this;
    let data: unknown;
    try {
      data = JSON.parse(json);
    } catch {
      return 'the bench wants JSON';
    }
    const parsed = Bench.safeParse(data);
    if (!parsed.success) return parsed.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; ');
    const { estop, rate, fault, ...world } = parsed.data;
    if (router.state === 'run' && Object.keys(world).some((key) => !SWITCHES.has(key))) return 'hands off: the machine is moving';
    router.world.change(world);
    if (world.lidOpen && router.spindleTarget > 0) router.hold();
    if (fault) this.happen(fault);
    if (estop !== undefined) router.setEstop(estop);
    if (rate !== undefined) router.rate = rate;
    return null;
  }

  private happen(fault: Fault): void {
    const { router } = this;
    switch (fault.kind) {
      case 'limit':
        return router.hitLimit(fault.axis);
      case 'lost-steps':
        router.world.slip = router.world.slip.map((v, axis) => v + fault.by[axis]) as [number, number, number];
        return;
      case 'slow-spindle':
        router.faults.slowSpindle = fault.on;
        return;
      case 'probe-wire':
        router.faults.probeWire = fault.on;
        return;
      case 'link-drop':
        return this.wire.drop(fault.seconds);
      case 'reset':
        router.reset();
        return this.wire.forget();
    }
  }
}
