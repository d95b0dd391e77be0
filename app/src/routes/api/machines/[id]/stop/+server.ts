import { commandHandler } from '$lib/server/stopping';

/** Stop, for whom the door did not know. */
export const POST = commandHandler('stop');
