/** The parts of the job page that are not there from the first moment on: fetched when first shown, or once there is nothing else to do. */
export const cards = {
  cuts: () => import('$lib/stages/cuts/CutsCard.svelte'),
  proof: () => import('$lib/stages/proof/ProofCard.svelte'),
  program: () => import('$lib/stages/program/ProgramCard.svelte'),
  setup: () => import('$lib/stages/setup/SetUpCard.svelte'),
  run: () => import('$lib/stages/run/RunScreen.svelte'),
  record: () => import('$lib/stages/record/RecordCard.svelte'),
};

/** Fetches all of them: whoever loses the network after that still gets to every stage. */
export async function fetchCards(): Promise<void> {
  for (const fetch of Object.values(cards)) await fetch().catch(() => {});
}
