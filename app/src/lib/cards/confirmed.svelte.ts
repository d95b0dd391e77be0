/** What a person has confirmed at the machine since this page was opened; never carried over a reload. */
import { SvelteSet } from 'svelte/reactivity';

export const confirmed = new SvelteSet<string>();
