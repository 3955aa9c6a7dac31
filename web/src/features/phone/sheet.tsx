import type { ReactNode } from 'react'

export function Sheet({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="grid gap-4 rounded-10 border border-line bg-surface p-6">
      <div>
        <h1 className="pb-2 font-title text-34 leading-tight">{title}</h1>
        <div className="stitched" />
      </div>
      {children}
    </section>
  )
}
