/** The books: every command that was given, by whom, and why it was refused. */
import { db } from './db';
import { trouble } from './log';

/** Whoever does something: the account, and the name as it stands in the record. */
export interface Author {
  id: string;
  name: string;
}

/** Writes a command down; nothing waits for it, least of all a machine that is to stop. */
export function writeDown(command: { do: string; machine?: string }, author: Author, refused: string | null): void {
  void db()
    .insertInto('audit')
    .values({ author: author.name, author_id: author.id, command: command.do, detail: JSON.stringify(command).slice(0, 2000), refused })
    .execute()
    .catch((error: Error) => trouble('audit', error));
}
