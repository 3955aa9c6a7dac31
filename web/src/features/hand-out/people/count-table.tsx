import { toCsv } from '@satchel/core/people/figures'
import { Download } from 'lucide-react'
import { Button } from '../../../components/button.tsx'

type Props = {
  /** What it holds; its file is called that. */
  caption: string
  headings: readonly string[]
  rows: readonly (readonly (string | number)[])[]
}

/** The numbers of a figure, to be read and to be taken along. */
export function CountTable({ caption, headings, rows }: Props) {
  const save = () => {
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([toCsv(headings, rows)], { type: 'text/csv' }))
    link.download = `${caption}.csv`
    link.click()
    URL.revokeObjectURL(link.href)
  }
  return (
    <div className="grid gap-2">
      <section
        className="max-h-64 overflow-auto rounded-10 border border-line bg-surface"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: who has no mouse scrolls it by keys
        tabIndex={0}
        aria-label={caption}
      >
        <table className="w-full text-13">
          <caption className="sr-only">{caption}</caption>
          <thead className="sticky top-0 bg-raised">
            <tr>
              {headings.map((heading, i) => (
                <th
                  key={heading}
                  scope="col"
                  className={`border-b border-line px-3 py-1.5 font-medium ${i === 0 ? 'text-left' : 'text-right'}`}
                >
                  {heading}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(([first, ...counts]) => (
              <tr key={[first, ...counts].join()}>
                <th scope="row" className="px-3 py-1 text-left font-normal">
                  {first}
                </th>
                {counts.map((count, i) => (
                  <td key={headings[i + 1]} className="measure px-3 py-1 text-right">
                    {count}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <div>
        <Button kind="quiet" onClick={save}>
          <Download size={18} aria-hidden /> As CSV
        </Button>
      </div>
    </div>
  )
}
