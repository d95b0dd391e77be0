/** Labels of the plan of the day and its pull sheet. */
import type { Said } from './said';

export const DAY = {
  // JobPlanning
  late: (late: Said) => `${late} late`,
  ready: 'ready',
  due: 'Due',
  promisedTo: 'Promised to',
  quantity: 'Quantity',
  boards: 'boards',
  urgentLateByAnHour: 'Urgent: late by an hour counts as four',
  theBoardIsHere: 'The board is here',
  finishingSteps: 'Finishing steps',
  step: (k: Said) => `Step ${k}`,
  handsOnMin: 'Hands-on, min',
  waitingAfterItMin: 'Waiting after it, min',
  addAStep: 'Add a step',
  openTheJob: 'Open the job',
  quoteAsPdf: 'Quote as PDF',
  priceOfItsMaterial: 'Price of its material…',
  removeItFromThePlan: 'Remove it from the plan',

  // Lanes
  boardsOn: (name: Said) => `Boards on ${name}`,
  now: (now: Said) => `Now, ${now}`,
  closedFrom: (to: Said) => `Closed from ${to}`,
  newOnes: (changes: Said) => `new ${changes}`,

  // NextCall
  byThePlanOfThe: (task: Said) => `By the plan of the day: ${task}`,

  // day/page
  today: 'Today',
  previousDay: 'Previous day',
  nextDay: 'Next day',
  callMeWhenIAm: 'Call me when I am needed',
  pullSheetMore: 'Pull sheet…',
  planItForMe: 'Plan it for me',
  jobsOnThePlan: 'Jobs on the plan',
  aJobToPutOn: 'A job to put on the plan',
  aJobOfTheShop: 'a job of the shop…',
  putItOnThePlan: 'Put it on the plan',
  somebodyIsNeeded: 'Somebody is needed',
  whenSomebodyIsNeeded: 'When somebody is needed',
  bitsOfThePlan: 'Bits of the plan',
  whenTheShopIsOpen: (from: Said, to: Said) => `When the shop is open: ${from} to ${to}`,
  daysSomebodyIsIn: 'Days somebody is in',
  peopleWhoAreIn: 'People who are in',

  // sheet/page
  backToTheDay: 'Back to the day',
  pullSheet: (date: Said) => `Pull sheet, ${date}`,
  bitsInOrder: 'Bits, in order',
  beforeIt: 'Before it',
} as const;
