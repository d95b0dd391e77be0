// The job screen lives in the browser: workers, canvas, drafts kept locally.
export const ssr = false;
