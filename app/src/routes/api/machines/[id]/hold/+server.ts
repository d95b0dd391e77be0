import { commandHandler } from '$lib/server/stopping';

/** Hold, for whom the door did not know. */
export const POST = commandHandler('hold');
