/** Planned cuts as the sections of a program. */
import { bitLabel } from '../bits/index.ts';
import type { Section } from '../program/write.ts';
import { joined } from '../toolpath/index.ts';
import type { PlannedCut } from './cut.ts';

export interface PlannedSection extends Section {
  cuts: PlannedCut[];
}

/** Stretches of cuts that follow each other with the same bit and spindle speed. */
export function sectionsOf(cuts: readonly PlannedCut[]): PlannedSection[] {
  const tools = [...new Set(cuts.map(({ bit }) => bit.id))];
  const groups: PlannedCut[][] = [];
  for (const planned of cuts) {
    if (planned.path.kind.length === 0) continue;
    const last = groups.at(-1);
    if (last && last[0].bit.id === planned.bit.id && last[0].cut.speed === planned.cut.speed) last.push(planned);
    else groups.push([planned]);
  }
  return groups.map((group) => ({
    tool: tools.indexOf(group[0].bit.id) + 1,
    bitLabel: group[0].bit.name || bitLabel(group[0].bit),
    speed: group[0].cut.speed,
    path: joined(group.map(({ path }) => path)),
    cuts: group,
  }));
}
