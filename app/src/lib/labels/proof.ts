/** Labels of Proof: what is shown, time, trial boards and test cards, ways that are faster. */
import type { Said } from './said';

export const PROOF = {
  // BitFinder
  lifts: 'Lifts',
  deepest: 'Deepest',
  notReached: 'Not reached',
  ridges: 'Ridges',
  closeUp: 'Close-up',
  use: (bit: Said) => `Use ${bit}`,
  useThis: (bit: Said) => `Use it: ${bit}`,
  useIt: 'Use it',
  forThisCut: 'For this cut',
  alsoUsualSizesThatAre: 'also usual sizes that are not in the crib',
  tryThem: 'Try them',
  bitsThatWereTried: 'Bits that were tried',

  // BurnFigures
  whatTheBeamLeaves: 'What the beam leaves',
  highestInOnePlace: 'Highest in one place',
  totalEnergy: 'Total energy',
  askedAgainstBurned: 'Asked against burned',

  // BurnedStage
  theBurnedSheet: 'The burned sheet',
  showAllOfIt: 'Show all of it',
  trueSize: 'True size',

  // CardPicture
  squaresOfTheCard: 'Squares of the card',

  // CardSheet
  powerByFeed: 'power by feed',
  powerByLinesToThe: 'power by lines to the mm',
  powerByFocus: 'power by focus',
  powerByKerfWhichSlot: 'power by kerf: which slot fits',
  testCard: 'Test card',
  whatVaries: 'What varies',
  head: 'Head',
  widthOfTheOffcut: 'Width of the offcut',
  heightOfTheOffcut: 'Height of the offcut',
  columns: 'Columns',
  leastPower: 'Least power',
  mostPower: 'Most power',
  slowestFeed: 'Slowest feed',
  fastestFeed: 'Fastest feed',
  layOutTheCard: 'Lay out the card',

  // CarvedStage
  timeAndDepth: (what: Said, time: Said, deepest: Said) => `${what}: ${time}, ${deepest} deep`,
  nowTimeAndDepth: (time: Said, deepest: Said) => `Now: ${time}, ${deepest} deep`,
  fromTheFront: 'From the front',
  fromAbove: 'From above',
  looksAndFiles: 'Looks and files',
  asTheBoard: (name: Said) => `as the board: ${name}`,
  paintInTheCarving: 'Paint in the carving',
  finestCells: 'Finest cells:',
  finerThan: 'Finer than',
  saveAPicturePng: 'Save a picture (PNG)',
  saveTheSolidStl: 'Save the solid (STL)',
  closeTheComparison: 'Close the comparison',

  // FasterWays
  whatWouldBeFaster: 'What would be faster?',
  whatWouldBeFasterTitle: 'What would be faster',
  changeIt: (label: Said) => `Change it: ${label}`,

  // PlatePieces
  whatBecomesOfThePlate: 'What becomes of the plate',
  thePlateAfterTheCut: 'The plate after the cut, over its slats',
  whenCut: 'When cut',
  pieces: 'Pieces',
  area: 'Area',
  weight: 'Weight',

  // ProofCard
  theResult: 'The result',
  ofEachRowOrWay: 'Of each row or way',
  lit: 'Lit',
  dark: 'Dark',
  total: 'Total',
  whereTheTimeGoes: 'Where the time goes',
  programmed: 'Programmed',
  average: 'Average',
  timeCutting: 'Time cutting',
  show: 'show',
  checkItOnYourSheet: 'Check it on your sheet',
  whichSquareWasBest: 'Which square was best?',
  testCardMore: 'Test card…',
  otherWays: 'Other ways',
  findTheRightBit: 'Find the right bit…',
  whichPlaceWasBest: 'Which place was best?',
  trialBoard: 'Trial board…',
  found: 'Found',
  asItWasDrawn: 'As it was drawn?',
  tintByCut: 'Tint by cut',
  keepToCompare: 'Keep to compare',
  askedAgainstCarved: 'Asked against carved',

  // ScrubBar
  backToTheCutBefore: 'Back to the cut before',
  pause: 'Pause',
  showTheJobRun: 'Show the job run',
  skipToTheEndOf: 'Skip to the end of this cut',
  timeInTheJob: 'Time in the job',

  // TimeChart
  timeOfEachCutBy: 'Time of each cut by what it is spent on',
  speedOfTheBitOver: 'Speed of the bit over the job, beside the feed that was asked for',

  // TrialPicture
  carvedWith: (label: Said) => `Carved with ${label}`,

  // TrialSheet
  feeds: 'feeds',
  depths: 'depths',
  bits: 'bits',
  theBestPlaceOfThe: 'The best place of the trial',
  whichSquareCameOutBest: 'Which square came out best?',
  whichPlaceCameOutBest: 'Which place came out best?',
  bestSquare: 'Best square',
  bestPlace: 'Best place',
  saveItAsThePreset: 'Save it as the preset',
  onlyTheSelected: (things: Said) => `Only the ${things} selected on the drawing`,
  cutToTry: 'Cut to try',
  variedFromLeftToRight: 'Varied from left to right',
  variedFromRowToRow: 'Varied from row to row',
  nothing: 'nothing',
  feedsIn: (unit: Said) => `Feeds, ${unit}`,
  depthsIn: (unit: Said) => `Depths, ${unit}`,
  ofTheWordsOnlyThe: 'of the words only the first letter',
  theOffcut: 'The offcut',
  layingItOut: 'Laying it out…',
  layOutTheTrialBoard: 'Lay out the trial board',
} as const;
