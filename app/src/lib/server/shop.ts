/** The shop's settings: one row, or what a shop begins with. */
import { ShopSettings } from '$lib/shop/settings';
import { db } from './db';

export async function shopSettings(): Promise<ShopSettings> {
  const row = await db().selectFrom('shop').select('doc').executeTakeFirst();
  return ShopSettings.parse(row?.doc ?? {});
}

export async function keepShopSettings(settings: ShopSettings): Promise<void> {
  const doc = JSON.stringify(settings);
  await db()
    .insertInto('shop')
    .values({ doc })
    .onConflict((one) => one.column('one').doUpdateSet({ doc }))
    .execute();
}
