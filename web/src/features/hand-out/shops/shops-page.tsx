import { ExternalLink, Plus } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { Dialog } from '../../../components/dialog.tsx'
import { TextField } from '../../../components/field.tsx'
import { toast } from '../../../components/toasts.tsx'
import { createShop, type Purchase, type Shop } from '../../../data/shops.ts'
import { usePackChange } from '../use-pack-change.ts'
import { Purchases } from './purchases.tsx'
import { ShopCard } from './shop-card.tsx'

type Props = {
  shops: readonly Shop[]
  purchases: readonly Purchase[]
  /** How many there are in all; the newest are told. */
  bought: number
  packs: readonly { id: string; title: string }[]
  /** The page of the stand-in shop, where it runs. */
  standIn: string | null
}

/** Shops that sell packs, what each of their products is, and what was bought. */
export function ShopsPage({ shops, purchases, bought, packs, standIn }: Props) {
  const change = usePackChange()
  const [naming, setNaming] = useState(false)
  const [name, setName] = useState('')
  const make = async () => {
    const made = await change(() => createShop(name))
    if (!made) return
    setNaming(false)
    setName('')
    toast(`"${name}" can sell now: give it the address and the secret that stand here.`)
  }
  return (
    <div className="grid gap-6">
      <div className="flex flex-wrap items-center gap-3">
        <Button kind="primary" onClick={() => setNaming(true)}>
          <Plus size={18} aria-hidden /> New shop
        </Button>
        {standIn !== null && (
          <a
            className="inline-flex items-center gap-1 text-saddle underline underline-offset-2"
            href={standIn}
            target="_blank"
            rel="noreferrer"
          >
            A small shop to try it with <ExternalLink size={16} aria-hidden />
          </a>
        )}
      </div>
      {(shops.length > 0 || purchases.length > 0) && <Purchases purchases={purchases} bought={bought} />}
      {shops.length === 0 && (
        <p className="max-w-[60ch] text-quiet">
          No shop yet. A shop tells of each sale by a signed message (Standard Webhooks): who buys a pack gets a link of
          their own and a letter, who wants the money back has it no more, and each newer release is told to buyers.
        </p>
      )}
      {shops.map((shop) => (
        <ShopCard key={shop.id} shop={shop} packs={packs} purchases={purchases} />
      ))}
      <Dialog
        open={naming}
        onOpenChange={setNaming}
        title="New shop"
        description="It gets an address to tell its sales to, and a secret that signs them."
      >
        <form
          className="grid gap-4"
          onSubmit={(event) => {
            event.preventDefault()
            void make()
          }}
        >
          <TextField
            label="What the shop is called"
            required
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button kind="primary" type="submit" disabled={name.trim() === ''}>
            Make it
          </Button>
        </form>
      </Dialog>
    </div>
  )
}
