/** Labels of the job around its stages: header, commands, history, the first job. */
import type { Said } from './said';

export const JOB = {
  // BoardStage
  viewOfTheBoard: 'View of the board',
  bed: 'bed',
  plan: 'plan',
  burned: 'burned',
  carved: 'carved',
  section: 'section',

  // CardFoot
  whatMattersHere: 'What matters here',
  whatMattersOn: (title: Said) => `${title}: what matters here`,
  showWhatWasFound: 'Show what was found',
  toFix: 'to fix',
  toCheck: 'to check',

  // GuideStrip
  showMeWhere: 'Show me where',

  // History
  historyOf: (name: Said) => `History of “${name}”`,
  onlyVersionsWithAName: 'Only versions with a name',
  savedVersions: 'Saved versions',
  olderVersions: 'Older versions',
  theVersionThatIsLooked: 'The version that is looked at',
  revisionCarved: (revision: Said) => `Revision ${revision}, carved`,
  nameOfThisVersion: 'Name of this version',
  suchAsAsOrdered: 'such as: as ordered',
  thisIsTheJobAs: 'This is the job as it is now',
  goBackToRevision: (revision: Said) => `Go back to revision ${revision}`,

  // JobFacts
  facts: 'Facts',
  atTheMachineCuttingStarting: 'At the machine: cutting, starting the spindle, changing bits',
  faster: 'faster?',

  // JobHeader
  nameOfTheJob: 'Name of the job',
  rename: 'Rename',
  historyEverySavedVersion: 'History: every saved version',
  undoEdit: (label: Said) => `Undo: ${label}`,
  nothingToUndo: 'Nothing to undo',
  redoEdit: (label: Said) => `Redo: ${label}`,
  nothingToRedo: 'Nothing to redo',
  search: 'search…',
  ctrlK: 'Ctrl K',
  goOnWithMine: 'Go on with mine',
  takeTheOther: 'Take the other',

  // JobPalette
  sumCalled: (title: Said) => `Sum: ${title}`,

  // StageList
  stagesOfTheJob: 'Stages of the job',

  // SumSheet
  putItInto: (name: Said) => `Put it into “${name}”`,
  sum: 'Sum',

  // WorkUnderWay
  drawing: 'Drawing',
  planAgain: 'Plan again',

  // commands
  showInches: 'Show inches',
  showMillimetres: 'Show millimetres',
  goTo: (title: Said) => `Go to ${title}`,
  showThePlan: 'Show the plan',
  showTheCarvedBoard: 'Show the carved board',
  showASection: 'Show a section',
  redo: 'Redo',
  saveNow: 'Save now',
  sumsOfTheShop: 'Sums of the shop',
  planOfTheDay: 'Plan of the day',
  measureOnTheCarvedBoard: 'Measure on the carved board',
  layThePiecesOutOn: 'Lay the pieces out on the sheet',
  historyOfTheJob: 'History of the job',
  saveAsATemplate: 'Save as a template',
  exportTheJobAsA: 'Export the job as a file',
  importADrawingAPicture: 'Import a drawing, a picture or a font',
  holdTheMachine: 'Hold the machine',
  spaceOnRun: 'Space, on Run',
  showEveryCommandAndIts: 'Show every command and its keys',
  isSavedAsATemplate: (name: Said) => `“${name}” is saved as a template`,
  itCouldNotBeSaved: 'It could not be saved',
  newSignOffersItFrom: 'New sign offers it from now on.',
  toolSelectAndMove: 'Tool: select and move',
  toolNodesOfAPath: 'Tool: nodes of a path',
  toolDrawALine: 'Tool: draw a line',
  toolTrimALine: 'Tool: trim a line',
  toolExtendALine: 'Tool: extend a line',
  toolSplitALineWhere: 'Tool: split a line where it is crossed',
  toolMeasure: 'Tool: measure',
  toolTryABit: 'Tool: try a bit',
  selectEverything: 'Select everything',
  selectNothing: 'Select nothing',
  copyWhatIsSelected: 'Copy what is selected',
  repeat: (label: Said) => `Repeat: ${label}`,
  repeatWhatWasLastTyped: 'Repeat what was last typed or done',
  deleteWhatIsSelected: 'Delete what is selected',
  uniteWhatIsSelected: 'Unite what is selected',
  unite: 'Unite',
  centreWhatIsSelectedOn: 'Centre what is selected on the board',
  hideTheOrder: 'Hide the order',
  selectTheNextThing: 'Select the next thing',
  selectTheThingBefore: 'Select the thing before',

  // guide
  typeTheWords: 'Type the words',
  chooseTheCuts: 'Choose the cuts',
  lookAtItCarved: 'Look at it carved',
  releaseIt: 'Release it',
  setTheMachineUp: 'Set the machine up',
  cutIt: 'Cut it',
  seeWhatWasKept: 'See what was kept',

  // stages
  artwork: 'Artwork',
  cuts: 'Cuts',
  proof: 'Proof',
  program: 'Program',
  setUp: 'Set up',
  run: 'Run',
  record: 'Record',

  // Findings
  showWhere: 'Show where',
  acceptAndGoOn: 'Accept and go on',

  // JobCard
  card: (title: Said) => `Card: ${title}`,
  feedsAsTheyWereRun: 'Feeds as they were run',
} as const;
