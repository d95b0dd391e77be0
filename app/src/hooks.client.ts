import type { ClientInit } from '@sveltejs/kit';
import { claimTabName } from '$lib/ui/tab';

/** Before anything is shown: this tab has a name of its own. */
export const init: ClientInit = claimTabName;
