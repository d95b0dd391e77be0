/** The shop's settings: one row, or what a shop begins with. */
import type { Leftover } from '@kerbe/core/board/materials';
import { ShopSettings } from '$lib/shop/settings';
import { db } from './db';

export async function shopSettings(): Promise<ShopSettings> {
  const row = await db().selectFrom('shop').select('doc').executeTakeFirst();
  return ShopSettings.parse(row?.doc ?? {});
}

/** Writes a piece that is left down, beside whatever else is changed meanwhile. @returns why it cannot be, or null */
export function keepLeftover(piece: Leftover): Promise<string | null> {
  return db()
    .transaction()
    .execute(async (trx) => {
      // A shop that has changed nothing yet has no row to wait for.
      await trx
        .insertInto('shop')
        .values({ doc: '{}' })
        .onConflict((one) => one.column('one').doNothing())
        .execute();
      const settings = ShopSettings.parse((await trx.selectFrom('shop').select('doc').forUpdate().executeTakeFirstOrThrow()).doc);
      const next = ShopSettings.safeParse({ ...settings, leftovers: [...settings.leftovers, piece] });
      if (!next.success) return 'There are too many pieces in the list: take some out of it under Materials.';
      await trx
        .updateTable('shop')
        .set({ doc: JSON.stringify(next.data) })
        .execute();
      return null;
    });
}

export async function keepShopSettings(settings: ShopSettings): Promise<void> {
  const doc = JSON.stringify(settings);
  await db()
    .insertInto('shop')
    .values({ doc })
    .onConflict((one) => one.column('one').doUpdateSet({ doc }))
    .execute();
}
