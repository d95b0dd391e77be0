/** What is typed about people: the fields of the forms to come in by, and of the accounts of a shop. */
import { z } from 'zod';
import { cleanText } from '@kerbe/core/text';

export const PersonName = z
  .string()
  .transform((text) =>
    cleanText(text)
      .normalize('NFC')
      .replace(/\p{C}+/gu, ' ')
      .replace(/\s+/g, ' ')
      .trim(),
  )
  .pipe(z.string().min(1, 'Type a name.').max(60, 'That name is too long.'));
export const RoleName = z.enum(['owner', 'operator', 'watcher'], 'Choose what they do.');
const Email = z.email('Type an e-mail address.').max(200, 'That address is too long.');
/** Whether a new one is good enough is asked where it is kept: it takes a list of the ones tried first. */
const NewPassword = z.string().max(200, 'That password is too long.').default('');

export const SignIn = z.object({ email: Email, password: z.string().min(1, 'Type your password.').max(200, 'That password is too long.') });
export const FirstOwner = z.object({ name: PersonName, email: Email, password: NewPassword });
export const NewPerson = FirstOwner.extend({ role: RoleName.default('operator') });
export type NewPerson = z.infer<typeof NewPerson>;
export const OwnName = z.object({ name: PersonName });
export const PasswordChange = z.object({ old: z.string().min(1, 'Type the password you have.').max(200), password: NewPassword });
