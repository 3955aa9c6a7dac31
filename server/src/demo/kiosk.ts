import { setTimeout as sleep } from 'node:timers/promises'
import type { AppDeps } from '../app-deps.ts'
import { insertShop, listPurchases, listShops, setProduct } from '../db/shops.ts'
import { sealShopSecret } from '../shops/sales-address.ts'
import type { DemoLibrary } from './life.ts'

/** The stand-in shop: its page, and by what it is known here. */
export type Kiosk = { page: string; id: string; secret: string }

const CODE = 'saltmarsh-sketching'
/** Who has bought the pack, none of them a real person; the last one wants the money back. */
const BUYERS = ['Wren Tidewater', 'Moss Harbourne', 'Pim Lagoon', 'Odd Culvert'] as const
const LOOK_MS = 100
const LOOKS = 300

/** A shop sells the demo's pack: buyers go to its page like everybody, and it tells of each sale in its own way. */
export async function openKiosk(deps: AppDeps, { workspaceId, pack }: DemoLibrary, kiosk: Kiosk): Promise<void> {
  const { db } = deps
  if ((await listShops(db, workspaceId)).some(({ id }) => id === kiosk.id)) return
  const { id, secret, page } = kiosk
  await insertShop(db, {
    id,
    workspaceId,
    name: 'Corner Kiosk',
    secretSealed: sealShopSecret(deps, workspaceId, secret),
  })
  await setProduct(db, { workspaceId, shopId: id, code: CODE, packId: pack.id })
  for (const name of BUYERS) {
    const email = `${name.toLowerCase().replace(' ', '.')}@buyers.example`
    await fetch(`${page}/buy`, { method: 'POST', body: new URLSearchParams({ product: CODE, name, email }) })
  }
  const last = BUYERS.at(-1)
  for (let look = 0; look < LOOKS && !deps.stopping.aborted; look++) {
    const bought = (await listPurchases(db, workspaceId)).find(({ buyerName }) => buyerName === last)
    if (bought?.handOutId) {
      await fetch(`${page}/refund`, { method: 'POST', body: new URLSearchParams({ id: bought.orderName }) })
      return
    }
    await sleep(LOOK_MS)
  }
}
