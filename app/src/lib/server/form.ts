/** Forms outside the live job: read with their schema, and answered so that what was typed stays and each fault stands at its field. */
import { message, setError, superValidate, type SuperValidated } from 'sveltekit-superforms';
import { zod4 } from 'sveltekit-superforms/adapters';
import type { z } from 'zod';
import type { Said } from '$lib/ui/said';
import type { formOf } from './body';

type Fields = Record<string, unknown>;
type FormSchema = z.ZodObject;
type Form<S extends FormSchema> = SuperValidated<z.infer<S>, Said, z.input<S>>;

/** An empty form, or one filled with what is there already. */
export const formFor = <S extends FormSchema>(schema: S, values: Partial<z.input<S>> = {}, id?: string): Promise<Form<S>> =>
  superValidate(values as never, zod4(schema as never), { id, errors: false }) as unknown as Promise<Form<S>>;

/** What was sent (`formOf`) as the schema wants it; what is missing stands as `values` says. */
export function formFrom<S extends FormSchema>(sent: Awaited<ReturnType<typeof formOf>>, schema: S, values: Partial<z.input<S>> = {}): Promise<Form<S>> {
  const data = new FormData();
  for (const [name, value] of Object.entries({ ...values, ...sent })) data.append(name, value instanceof File ? value : String(value ?? ''));
  return superValidate(data, zod4(schema as never)) as unknown as Promise<Form<S>>;
}

/** No password goes back to the page it came from. */
function withoutPasswords<S extends FormSchema>(form: Form<S>): Form<S> {
  for (const name of ['password', 'old']) if (name in form.data) (form.data as Fields)[name] = '';
  return form;
}

export const done = <S extends FormSchema>(form: Form<S>, said: string) => message(withoutPasswords(form), { said });
/** Refused: by the faults of its fields, or for the reason given. */
export const refused = <S extends FormSchema>(form: Form<S>, why: string, status: 400 | 409 | 429 | 503 = 400) =>
  message(withoutPasswords(form), { why }, { status });
export const faulty = <S extends FormSchema>(form: Form<S>) => refused(form, 'That did not go through: see what is said beside the fields.');
/** Refused for what stands in one field. */
export function refusedAt<S extends FormSchema>(form: Form<S>, field: keyof z.infer<S> & string, why: string) {
  setError(form, field as never, why);
  return faulty(form);
}
