import { Link } from 'react-router'
import { canPickFolder } from '../../real-folder/pick-folder.ts'

/** What following is, and the other way to do it. */
export function HowToFollow({ isFirst }: { isFirst: boolean }) {
  return (
    <section className={isFirst ? 'rounded-10 border border-dashed border-line bg-surface p-5' : 'text-13 text-quiet'}>
      {isFirst && (
        <>
          <h2 className="font-title text-20">A folder that you go on drawing in</h2>
          <p className="mb-3 max-w-prose text-quiet">
            When a file of it changes, its brush gets the new pixels and keeps all else: how it paints, its sets, tags,
            pins and name. New files wait in Gather. A file that goes by another name is known by what it holds. What a
            day has brought stands here in one line, and is taken back as one step.
          </p>
        </>
      )}
      <p className="max-w-prose">
        {canPickFolder()
          ? 'This page looks at folders for as long as it is open. '
          : 'This browser gives no folders to pages. '}
        For one at a server, or without a page, there is the command line, by a{' '}
        <Link to="/members" className="underline">
          token
        </Link>
        :
      </p>
      <pre className="measure mt-2 w-fit max-w-full overflow-x-auto rounded-4 bg-raised px-3 py-2">
        <code>{`SATCHEL_TOKEN=… ./satchel watch FOLDER --at ${window.location.origin}`}</code>
      </pre>
    </section>
  )
}
