import type { ComponentProps, ReactNode } from 'react'

/** The quiet card in which one signs in or makes the first account. */
export function AccountCard({
  title,
  intro,
  form,
  children,
}: {
  title: string
  intro: string
  form: ComponentProps<'form'>
  children: ReactNode
}) {
  return (
    <main className="grid min-h-dvh place-items-center p-4">
      <div className="grid w-[min(420px,100%)] gap-4 rounded-10 border border-line bg-surface p-6 shadow-lift">
        <div className="flex items-center gap-2 font-title text-18 font-semibold">
          <img src="/mark.svg" alt="" width={32} height={32} /> gentle satchel
        </div>
        <div>
          <h1 className="pb-2 font-title text-34 leading-none">{title}</h1>
          <div className="stitched" />
        </div>
        <p className="text-quiet">{intro}</p>
        <form {...form} className="grid gap-3">
          {children}
        </form>
      </div>
    </main>
  )
}
