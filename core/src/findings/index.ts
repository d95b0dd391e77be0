/**
 * Everything Kerbe can find wrong: what each finding knows, what it means and what to do about it.
 */
import { artworkFindings } from './artwork.ts';
import { cutsFindings } from './cuts.ts';
import { jobFindings } from './job.ts';
import { programFindings } from './program.ts';
import { laserFindings } from './laser.ts';
import { torchFindings } from './torch.ts';

export { forbids, told, wordsOf, type Finding, type FindingWords, type Repair, type Severity, type ToldFinding } from './finding.ts';

export const finding = { ...artworkFindings, ...cutsFindings, ...jobFindings, ...programFindings, ...torchFindings, ...laserFindings };
