/** What happened elsewhere - at the machine, in another tab - told where one is. */
import { createToaster } from '@skeletonlabs/skeleton-svelte';

export const toaster = createToaster({ placement: 'bottom-end', max: 4 });
