import type { ClientInit, HandleClientError } from '@sveltejs/kit';
import { claimTabName } from '$lib/ui/tab';
import { reportTroubles, tellTrouble } from '$lib/ui/trouble';

/** Before anything is shown: this tab has a name of its own, and what goes wrong in it is told to the server. */
export const init: ClientInit = () => {
  claimTabName();
  reportTroubles();
};

export const handleError: HandleClientError = ({ error, status, event }) => {
  if (status === 404) return { message: 'There is no such page.' };
  tellTrouble(error, `going to ${event.url.pathname}`);
  return { message: 'Something went wrong on this page. What you changed is kept in this browser: load it again.' };
};
