/** Labels of people and accounts. */
import type { Said } from './said';

export const PEOPLE = {
  // account/page
  device: 'Device',
  address: 'Address',
  since: 'Since',
  signOutThere: 'Sign out there',
  yourAccount: 'Your account',
  yourNameInThisShop: 'Your name in this shop',
  changeTheName: 'Change the name',
  password: 'Password',
  currentPassword: 'Current password',
  newPasswordAtLeastTen: 'New password, at least ten characters',
  changeThePassword: 'Change the password',
  whereYouAreSignedIn: 'Where you are signed in',
  signOutEverywhereElse: 'Sign out everywhere else',

  // first-owner/page
  thisShopHasNobodyYet: 'This shop has nobody yet. Make the account of its owner.',
  eMail: 'E-mail',
  passwordAtLeastTenCharacters: 'Password, at least ten characters',
  makeTheAccountAndCome: 'Make the account and come in',

  // people/page
  role: 'Role',
  roleOf: (name: Said) => `Role of ${name}`,
  newPassword: 'New password…',
  signOutEverywhere: 'Sign out everywhere',
  remove: 'Remove…',
  makeAnAccount: 'Make an account',
  firstPassword: 'First password',
  makeTheAccount: 'Make the account',
  removePerson: (name: Said) => `Remove ${name}?`,
  newPasswordFor: (name: Said) => `New password for ${name}`,
  setThePassword: 'Set the password',

  // sign-in/page
  theSaltgrassSignShedDemo: 'The Saltgrass Sign Shed (demo)',
  openTheDemoAs: (name: Said) => `Open the demo as ${name}`,
  withYourOwnAccount: 'With your own account',
  signIn: 'Sign in',
} as const;
