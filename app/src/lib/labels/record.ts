/** Labels of Record and of the logbook. */
import type { Said } from './said';

export const RECORD = {
  // LogSums
  doesItTakeAsLong: 'Does it take as long as planned?',
  timeTakenInPerCent: 'Time taken in per cent of the time planned, by week and machine',
  howLongDoesEachMachine: 'How long does each machine cut?',
  hoursCutByWeekAnd: 'Hours cut by week and machine',
  whatComesOutWrong: 'What comes out wrong?',
  defectsByKind: 'Defects by kind',
  arePromisesKept: 'Are promises kept?',
  promisedBoardsCutInTime: 'Promised boards cut in time and late, by week',

  // RecordCard
  figuresOfToday: 'Figures of today',
  runsOfThisJob: 'Runs of this job',
  takeItIntoTheCuts: 'Take it into the cuts',
  ofPlanned: (time: Said, more: Said) => `of ${time} planned${more}`,
  takeThisBack: 'Take this back',
  xAndYZero: 'X and Y zero',
  zZero: 'Z zero',
  wentOnFrom: 'Went on from',
  skippedChecks: 'Skipped checks',
  asItWasThen: 'as it was then',
  withTodaysFigures: 'with today’s figures',
  saveThePiece: 'Save the piece',
  piecesThatAreLeft: 'pieces that are left',
  whereItIsKept: 'where it is kept',
  whatCameOutWrong: 'What came out wrong',
  whereAndHow: 'Where, and how',
  whereAndHowLower: 'where, and how',
  asPlanned: 'As planned',
  aPhotoOfTheBoard: 'A photo of the board',
  whatWentWellWhatDid: 'What went well, what did not',
  olderRunsInTheLogbook: 'Older runs, in the logbook',

  // logbook/page
  runs: 'Runs',
  whatTheyAddUpTo: 'What they add up to',
  result: 'Result',
  planned: 'Planned',
  taken: 'Taken',
  notesAndProblems: 'Notes and problems',
  words: 'Words',
  findInTheLog: 'Find in the log',
  jobWoodPersonNoteProblem: 'job, wood, person, note, problem…',
  howItEnded: 'How it ended',
  anyResult: 'any result',
  everyMachine: 'every machine',
  previousPage: 'Previous page',
  nextPage: 'Next page',
  saveAs: (format: Said) => `Save as ${format}`,
} as const;
