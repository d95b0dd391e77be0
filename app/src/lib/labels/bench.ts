/** Labels of the Bench: the panel of a machine, and hands on a simulated one. */
import type { Said } from './said';

export const BENCH = {
  // BenchView
  theSimulatedMachineFromAbove: 'The simulated machine from above',

  // Hands
  turnTheRedButtonRelease: 'Turn the red button: release it',
  pressTheRedButton: 'Press the red button',
  switchesAndWires: 'Switches and wires',
  yes: 'yes',
  bitToFit: 'Bit to fit',
  howItsShankIsHeld: 'How its shank is held',
  standsOut: 'Stands out',
  fitIt: 'Fit it',
  plateAndBlock: 'Plate and block',
  takeThePlateAway: 'Take the plate away',
  plateUnderTheBit: (thickness: Said) => `Plate under the bit (${thickness})`,
  takeTheBlockAway: 'Take the block away',
  blockOnTheFrontLeft: 'Block on the front left corner',
  nozzle: 'Nozzle',
  fitANewNozzle: 'Fit a new nozzle',
  fitAWornOne: 'Fit a worn one',
  onTheSlats: 'On the slats',
  takeThePiecesOffWith: 'Take the pieces off with tongs',
  headAndStartButton: 'Head and Start button',
  pressStartAtTheMachine: 'Press Start at the machine',
  takeTheHeadOff: 'Take the head off',
  putTheHeadOn: 'Put the head on',
  andClamps: (sheet: Said) => `${sheet} and clamps`,
  whatTheSheetIsOf: 'What the sheet is of',
  layAFresh: (sheet: Said) => `Lay a fresh ${sheet} there`,
  clampUnder: (tool: Said) => `A clamp under the ${tool}`,
  clampsOff: 'Clamps off',
  whatCanGoWrong: 'What can go wrong',
  howFastItsTimeGoes: 'How fast its time goes',

  // Panel
  spindle: 'spindle',
  arcBurns: 'arc burns',
  arcOff: 'arc off',
  beam: 'beam',
  home: 'Home',
  goToZero: 'Go to zero',
  turning: 'Turning…',
  spindleTenSeconds: 'Spindle, ten seconds',
  bitThatIsMeasured: 'Bit that is measured',
  noBitOfTheCrib: 'No bit of the crib is fitted',
  measureItOnTheSensor: 'Measure it on the sensor',
  setXAndYZero: (sheet: Said) => `Set X and Y zero at the front left corner of the ${sheet}`,
  setZZero: 'Set Z zero',
  faceTheProgramCountsFrom: 'Face the program counts from',
  forAProgramFromThe: 'for a program from the top',
  forOneFromTheSpoilboard: 'for one from the spoilboard',
  lookingForIt: 'Looking for it…',

  // PracticeRun
  programsThatLieReady: 'Programs that lie ready',
  about: (seconds: Said) => `about ${seconds}`,
  run: (name: Said) => `Run ${name}`,
  goOn: 'Go on',
  takeItUpAgain: 'Take it up again',
  goOnFrom: (place: Said) => `Go on from ${place}`,

  // bench/page
  handsAndExercises: 'Hands and exercises',
  exercises: 'Exercises',
  handsOnTheMachine: 'Hands on the machine',
  anotherExercise: 'Another exercise',
  fromTheBeginning: 'From the beginning',
  leaveTheExercise: 'Leave the exercise',
  panelOfTheMachine: 'Panel of the machine',
} as const;
