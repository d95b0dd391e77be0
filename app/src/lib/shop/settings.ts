/** What is said of the shop as a whole: for its wall, its sheets, and what a new sign begins with. */
import { Leftover, ShopMaterial } from '@kerbe/core/board/materials';
import { ShopHours } from '@kerbe/core/day/planning';
import { z } from 'zod';

/** A picture within the page: nothing is fetched for it. */
const LOGO = /^data:image\/(png|jpeg);base64,[A-Za-z0-9+/=]+$/;
const MOST_LOGO = 400_000;

export const ShopSettings = z.strictObject({
  name: z.string().trim().min(1, 'A shop needs a name: it stands on its wall and its sheets.').max(80).default('Our shop'),
  /** Stands on set-up sheets. */
  logo: z.string().max(MOST_LOGO, 'The logo is too large: 300 kB at most.').regex(LOGO, 'A logo is a PNG or JPEG picture.').nullable().default(null),
  units: z.enum(['mm', 'in']).default('mm'),
  /** Inches as fractions of this, or as decimals. */
  fraction: z.union([z.literal(0), z.literal(16), z.literal(32), z.literal(64)]).default(0),
  /** What a new sign is for when nothing else is said. */
  machine: z.string().max(60).nullable().default(null),
  material: z.string().max(60).default('pine'),
  /** When somebody is in: the plan of the day goes by it. */
  hours: ShopHours.prefault({}),
  /** What the shop says of materials, beside what is known of the usual ones; and pieces that are left. */
  materials: z.array(ShopMaterial).max(300).default([]),
  leftovers: z.array(Leftover).max(2000).default([]),
  /** Stands before prices. */
  currency: z.string().trim().min(1).max(4).default('€'),
  /** What an hour costs, of a machine and of a person, and what is added to all of it in a quote, per cent. */
  rates: z
    .strictObject({
      machine: z.number().min(0).max(10_000).default(20),
      hands: z.number().min(0).max(10_000).default(35),
      added: z.number().min(0).max(1000).default(30),
    })
    .prefault({}),
  /** At a machine that may not be left alone somebody says every so many minutes that they are there. */
  presence: z.number().min(1, 'At least a minute.').max(30, 'At most half an hour.').default(5),
});
export type ShopSettings = z.infer<typeof ShopSettings>;

const { name, logo, units, material, currency, presence, rates } = ShopSettings.shape;
const rate = rates.unwrap().shape;
/** The form of the settings, one field a line; no logo and no machine are empty there. */
export const SettingsForm = z.object({
  name,
  logo: z
    .string()
    .default('')
    .refine((text) => text === '' || logo.safeParse(text).success, 'A logo is a PNG or JPEG picture of 300 kB at most.'),
  units,
  fraction: z
    .number()
    .default(0)
    .refine((of) => [0, 16, 32, 64].includes(of), 'Fractions go to 1/16, 1/32 or 1/64.'),
  machine: z.string().max(60).default(''),
  material,
  currency,
  presence,
  rateMachine: rate.machine,
  rateHands: rate.hands,
  rateAdded: rate.added,
});
type SettingsForm = z.infer<typeof SettingsForm>;

export const formOfSettings = (settings: ShopSettings): SettingsForm => ({
  name: settings.name,
  logo: settings.logo ?? '',
  units: settings.units,
  fraction: settings.fraction,
  machine: settings.machine ?? '',
  material: settings.material,
  currency: settings.currency,
  presence: settings.presence,
  rateMachine: settings.rates.machine,
  rateHands: settings.rates.hands,
  rateAdded: settings.rates.added,
});

/** The settings with what the form says; what it does not hold stays. */
export const settingsWith = (now: ShopSettings, { rateMachine, rateHands, rateAdded, ...form }: SettingsForm): ShopSettings => ({
  ...now,
  ...form,
  fraction: form.fraction as ShopSettings['fraction'],
  logo: form.logo || null,
  machine: form.machine || null,
  rates: { machine: rateMachine, hands: rateHands, added: rateAdded },
});
