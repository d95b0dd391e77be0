/** What a person's hands and bad luck do to a simulated machine: its buttons, faults to order, and what its head has of its own. */
import { z } from 'zod';
import type { Controller } from './controller.ts';
import type { Triple } from './stretch.ts';

/** What a fault does to the wire, which is the process's own. */
interface Wire {
  /** The cable is out for so many seconds. */
  drop: (seconds: number) => void;
  /** Lines that wait for room are forgotten. */
  forget: () => void;
}

/** Faults that any machine may have: once. */
const ONCE = [
  z.strictObject({ kind: z.literal('limit'), axis: z.int().min(0).max(2) }),
  z.strictObject({ kind: z.literal('lost-steps'), by: z.tuple([z.number(), z.number(), z.number()]) }),
  z.strictObject({ kind: z.literal('link-drop'), seconds: z.number().min(0).max(60) }),
  z.strictObject({ kind: z.literal('reset') }),
] as const;

/** Buttons of its own - Start is one where programs begin by it -, faults of any kind or of its head's, and how much faster than the clock it runs. */
const commonTo = (faults: string[]) => ({
  estop: z.boolean().optional(),
  start: z.literal(true).optional(),
  rate: z.number().gt(0).max(10_000).optional(),
  fault: z.discriminatedUnion('kind', [...ONCE, z.strictObject({ kind: z.enum(faults), on: z.boolean() })]).optional(),
});
type Fault = z.infer<(typeof ONCE)[number]> | { kind: 'lasting'; name: string; on: boolean };
interface Common {
  estop?: boolean;
  rate?: number;
  start?: true;
  fault?: z.infer<(typeof ONCE)[number]> | { kind: string; on: boolean };
}

export class Hands {
  private readonly machine: Controller;
  private readonly wire: Wire;
  private readonly schema: z.ZodObject;

  constructor(machine: Controller, wire: Wire) {
    this.machine = machine;
    this.wire = wire;
    const { hands, faults } = machine.head;
    this.schema = z.strictObject({ ...hands.schema.shape, ...commonTo(Object.keys(faults)) });
  }

  /** Carries out a change, given as JSON. Gives why not, or null. */
  change(json: string): string | null {
    const { machine } = this;
    let data: unknown;
    try {
      data = JSON.parse(json);
    } catch {
      return 'the bench wants JSON';
    }
    const parsed = this.schema.safeParse(data);
    if (!parsed.success) return parsed.error.issues.map((issue) => `${issue.path.join('.')}: ${issue.message}`).join('; ');
    const { estop, rate, start, fault, ...own } = parsed.data as Common & Record<string, unknown>;
    if (machine.state === 'run' && Object.keys(own).some((key) => !machine.head.hands.whileMoving.has(key))) return 'hands off: the machine is moving';
    if (machine.head.change(own)) machine.hold();
    if (fault) this.happen('on' in fault ? { kind: 'lasting', name: fault.kind, on: fault.on } : fault);
    if (estop !== undefined) machine.setEstop(estop);
    if (rate !== undefined) machine.rate = rate;
    return start ? machine.pressStart() : null;
  }

  private happen(fault: Fault): void {
    const { machine } = this;
    switch (fault.kind) {
      case 'limit':
        return machine.hitLimit(fault.axis);
      case 'lost-steps':
        machine.head.slip = machine.head.slip.map((v, axis) => v + fault.by[axis]) as Triple;
        return;
      case 'link-drop':
        return this.wire.drop(fault.seconds);
      case 'reset':
        machine.reset();
        return this.wire.forget();
      case 'lasting':
        machine.head.faults[fault.name] = fault.on;
    }
  }
}
