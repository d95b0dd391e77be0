/** Labels of Run: start, pauses, overrides, going on after a stop. */
import type { Said } from './said';

export const RUN = {
  // AsCut
  comparing: 'Comparing…',
  compareWhatItCutWith: 'Compare what it cut with the proof',

  // GoOnFrom
  goOnFromTheMiddle: 'Go on from the middle',
  strokesOfTheProgramPress: 'Strokes of the program: press the one to begin with',
  theStrokeBefore: 'The stroke before',
  theStrokeAfter: 'The stroke after',
  whereItStopped: 'Where it stopped',
  beginWith: 'Begin with',
  howItGoesIn: 'How it goes in',
  setUpForLine: (line: Said) => `Set up for line ${line}`,
  goOnFromLine: (line: Said) => `Go on from line ${line}`,

  // Overrides
  now: (what: Said, value: Said) => `${what}, now ${value}`,
  less: (what: Said) => `${what} 10 % less`,
  asPlanned: (what: Said) => `${what} as planned`,
  more: (what: Said) => `${what} 10 % more`,

  // RunScreen
  iAmAtTheMachine: 'I am at the machine and it is clear',
  fromAnotherLine: 'From another line…',
  goOnFromWhereIt: 'Go on from where it stopped…',
  startAgainFromTheBeginning: 'Start again from the beginning',
  sendItToTheLaser: 'Send it to the laser',
  startCutting: 'Start cutting',
  startInTheMiddle: 'Start in the middle…',
  backToSettingUp: 'Back to setting up',
  pressStartOnTheSimulated: (machine: Said) => `Press Start on the simulated ${machine}`,
  waitTheSpindleIsRunning: 'Wait: the spindle is running down',
  releaseItSimulated: 'Release it (simulated)',
  itIsTightToolsAre: 'It is tight, tools are away, hands are off',
  goOnCutting: 'Go on cutting',
  measureTheNewBit: 'Measure the new bit',
  itIsDoneToolsAre: 'It is done, tools are away, hands are off',
  stopThenChooseTheContour: 'Stop, then choose the contour it goes on from',
  resume: 'Resume',
  theMachineIsOffEnd: 'The machine is off: end the record of this run',
  deeperBy: 'Deeper by',
  setItThenCheck: (by: Said, way: Said) => `Set it ${by} ${way}, then check the set-up`,
  onToProgram: (number: Said, count: Said) => `On to program ${number} of ${count}`,
  seeTheRecord: 'See the record',
  another: (verb: Said, sheet: Said) => `${verb} another, on a new ${sheet}`,
  aLittleShallowAgainDeeper: 'A little shallow? Again, deeper by…',
  space: 'space',
} as const;
