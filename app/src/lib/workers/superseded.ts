/** An answer that is not wanted any more: something newer is, or it was cancelled. It keeps its name on the way between workers. */
export class Superseded extends Error {
  override name = 'Superseded';
}
