/** What a kind of cut shows on its card besides its fields. Most need nothing of their own. */
import type { Component } from 'svelte';
import type { CutKind } from '@kerbe/core/job';
import DrillPoints from './DrillPoints.svelte';
import type { ExtraProps } from './extra';
import FloorAndPlug from './FloorAndPlug.svelte';
import MakeHalf from './MakeHalf.svelte';
import TabPlaces from './TabPlaces.svelte';

export const EXTRAS = { vcarve: FloorAndPlug, profile: TabPlaces, drill: DrillPoints, recess: MakeHalf, plug: MakeHalf } as unknown as Partial<
  Record<CutKind, Component<ExtraProps>>
>;
