import { FolderCheck, PackagePlus, Signpost, Unlink } from 'lucide-react'
import { Link } from 'react-router'
import { Button, buttonLook } from '../../components/button.tsx'
import { MeasureAll } from './matrix-body.tsx'

type Props = { find: string; onFind: (find: string) => void; onInstall: () => void }

/** What can be done beside the matrix: brushes found, all of it measured, its neighbours gone to. */
export function FitTools({ find, onFind, onInstall }: Props) {
  return (
    <>
      <input
        type="search"
        aria-label="Find brushes"
        placeholder="find"
        value={find}
        onChange={(event) => onFind(event.target.value)}
        className="rounded-4 border border-line bg-raised px-2.5 py-1.5"
      />
      <MeasureAll />
      <Link to="/fit/destinations" className={buttonLook()}>
        <Signpost size={18} aria-hidden /> Destinations
      </Link>
      <Link to="/fit/installs" className={buttonLook()}>
        <FolderCheck size={18} aria-hidden /> Installed
      </Link>
      <Link to="/fit/loose-ends" className={buttonLook()}>
        <Unlink size={18} aria-hidden /> Loose ends
      </Link>
      <Button kind="primary" onClick={onInstall}>
        <PackagePlus size={18} aria-hidden /> Install
      </Button>
    </>
  )
}
