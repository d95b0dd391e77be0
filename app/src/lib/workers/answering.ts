/** The worker's side of every call: what it answers, and word when it is ready to be asked. */
import { expose, transfer } from 'comlink';

export { transfer };

/** Answers questions by their names from now on. */
export function answer(api: object): void {
  expose(api);
  // A module worker may miss what is said before it has been read.
  self.postMessage('ready');
}
