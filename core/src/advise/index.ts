/** What a carver otherwise finds out by trying: which bit, what would be faster, what feed, whether it will show, and where the time goes. */
export { materialOf, MATERIALS, suggestFeeds, type FeedAdvice } from '../feeds/index.ts';
export { candidatesFor, inJob, USUAL_SIZES } from './candidates.ts';
export { cutWith, tryBit, type BitTrial } from './finder.ts';
export { fasterWays, type Faster, type FasterOptions } from './faster.ts';
export { willItShow, type Showing } from './shows.ts';
export { learnedFactor, type PastRun } from './learned.ts';
export { timeOf, whereTimeGoes, type CutTime, type TimeParts, type TimeReport } from './time.ts';
export { presetFrom } from './preset.ts';
export { trialBoard, type Range, type TrialAsk, type TrialBoard, type Vary } from './trial.ts';
