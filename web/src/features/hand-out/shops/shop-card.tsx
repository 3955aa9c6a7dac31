import { useQuery } from '@tanstack/react-query'
import { formatDistanceToNow } from 'date-fns'
import { Copy, KeyRound } from 'lucide-react'
import { useState } from 'react'
import { Button } from '../../../components/button.tsx'
import { SelectField, TextField } from '../../../components/field.tsx'
import { toast, toastError } from '../../../components/toasts.tsx'
import { editionsQuery } from '../../../data/editions.ts'
import { closeShop, dropProduct, type Purchase, type Shop, setProduct, tellSecret } from '../../../data/shops.ts'
import { usePackChange } from '../use-pack-change.ts'

type Props = { shop: Shop; packs: readonly { id: string; title: string }[]; purchases: readonly Purchase[] }

/** A shop: where it tells its sales to, and what each of its products is. */
export function ShopCard({ shop, packs, purchases }: Props) {
  const change = usePackChange()
  const [secret, setSecret] = useState<string>()
  const { id, name, address, heardAt, products } = shop
  const letGo = () =>
    change(() => closeShop(id, true), {
      text: `What "${name}" tells is not taken any more. What was bought stays.`,
      undo: () => closeShop(id, false),
    })
  const copy = async (words: string, told: string) => {
    await navigator.clipboard.writeText(words)
    toast(told)
  }
  // bought by a code that nobody has explained
  const known = new Set(products.map(({ code }) => code))
  const unknown = [
    ...new Set(
      purchases.flatMap(({ shopId, product }) =>
        shopId === id && product !== null && !known.has(product) ? [product] : [],
      ),
    ),
  ]
  return (
    <section aria-label={name} className="grid gap-4 rounded-10 border border-line bg-surface p-4">
      <div className="flex flex-wrap items-baseline justify-between gap-2">
        <h2 className="font-title text-24">{name}</h2>
        <span className="text-13 text-quiet">
          {heardAt
            ? `last heard of ${formatDistanceToNow(new Date(heardAt), { addSuffix: true })}`
            : 'not heard of yet'}
        </span>
      </div>
      <dl className="grid gap-3">
        <Fact name="Address it tells its sales to">
          <code className="measure break-all text-13">{address}</code>
          <Button kind="quiet" onClick={() => void copy(address, 'The address is copied.').catch(toastError)}>
            <Copy size={16} aria-hidden /> Copy the address
          </Button>
        </Fact>
        <Fact name="Secret that signs them">
          {secret === undefined ? (
            <Button kind="quiet" onClick={() => void tellSecret(id).then(setSecret).catch(toastError)}>
              <KeyRound size={16} aria-hidden /> Show the secret
            </Button>
          ) : (
            <>
              <code className="measure break-all text-13">{secret}</code>
              <Button kind="quiet" onClick={() => void copy(secret, 'The secret is copied.').catch(toastError)}>
                <Copy size={16} aria-hidden /> Copy the secret
              </Button>
            </>
          )}
        </Fact>
      </dl>
      <div>
        <h3 className="font-bold">What its products are</h3>
        {products.length === 0 && <p className="text-quiet">Nobody has said yet which pack a product is.</p>}
        <ul aria-label={`Products of ${name}`} className="divide-y divide-line">
          {products.map((product) => (
            <li key={product.id} className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2">
              <code className="measure text-13">{product.code}</code>
              <span className="flex-1">
                {product.title}
                {product.edition && <span className="text-quiet">, as {product.edition}</span>}
              </span>
              <Button
                kind="quiet"
                aria-label={`Take ${product.code} out`}
                onClick={() =>
                  void change(() => dropProduct(product.id), {
                    text: `Whoever buys "${product.code}" waits from now on.`,
                    undo: () => setProduct(id, product),
                  })
                }
              >
                Take out
              </Button>
            </li>
          ))}
        </ul>
      </div>
      {unknown.length > 0 && (
        <p role="status" className="text-amber">
          Somebody has bought {unknown.map((code) => `"${code}"`).join(', ')}, and waits: say below which pack that is.
        </p>
      )}
      <NewProduct key={unknown[0] ?? ''} shopId={id} packs={packs} code={unknown[0] ?? ''} />
      <div>
        <Button kind="danger" onClick={() => void letGo()}>
          Let go of this shop
        </Button>
      </div>
    </section>
  )
}

function Fact({ name, children }: { name: string; children: React.ReactNode }) {
  return (
    <div>
      <dt className="text-13 text-quiet">{name}</dt>
      <dd className="flex flex-wrap items-center gap-2">{children}</dd>
    </div>
  )
}

const WHOLE = ''

function NewProduct({ shopId, packs, code: first }: { shopId: string; packs: Props['packs']; code: string }) {
  const change = usePackChange()
  const [code, setCode] = useState(first)
  const [packId, setPackId] = useState(packs[0]?.id ?? '')
  const [editionId, setEditionId] = useState(WHOLE)
  const editions = useQuery({ ...editionsQuery(packId), enabled: packId !== '' })
  if (packs.length === 0) return <p className="text-quiet">Make a pack first; then a shop can sell it.</p>
  const add = async () => {
    const done = await change(() => setProduct(shopId, { code, packId, editionId: editionId || null }))
    if (done) setCode('')
  }
  return (
    <form
      aria-label="Another product"
      className="flex flex-wrap items-end gap-3"
      onSubmit={(event) => {
        event.preventDefault()
        void add()
      }}
    >
      <div className="w-56">
        <TextField
          label="Code in the shop"
          required
          maxLength={60}
          pattern="[A-Za-z0-9._\-]+"
          title="letters, digits, dots and dashes"
          value={code}
          onChange={(event) => setCode(event.target.value)}
        />
      </div>
      <div className="w-56">
        <SelectField
          label="Pack"
          value={packId}
          choices={packs.map(({ id, title }) => ({ value: id, label: title }))}
          onChange={(event) => {
            setPackId(event.target.value)
            setEditionId(WHOLE)
          }}
        />
      </div>
      <div className="w-56">
        <SelectField
          label="What of it"
          value={editionId}
          choices={[
            { value: WHOLE, label: 'All of it' },
            ...(editions.data?.editions.map(({ id, name }) => ({ value: id, label: name })) ?? []),
          ]}
          onChange={(event) => setEditionId(event.target.value)}
        />
      </div>
      <Button type="submit" disabled={code.trim() === ''}>
        This is the pack
      </Button>
    </form>
  )
}
