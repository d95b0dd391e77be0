declare module 'dxf-writer/src/Handle.js' {
  /** Counts the handles given out. */
  const Handle: { seed: number };
  export default Handle;
}
