/** What travels between machine, agent and web application, as types; what may be told is in `commands`. */
export * from './machine.ts';
export * from './snapshot.ts';
