export {
  account,
  apiToken,
  auditLine,
  installClaim,
  invitation,
  member,
  rateLimit,
  session,
  twoFactor,
  user,
  verification,
  workspace,
} from './accounts.ts'
export type { ActDone, PlaceKind, StoredMove } from './acts.ts'
export { libraryAct } from './acts.ts'
export type { Cut } from './editions.ts'
export { edition, editionBuild } from './editions.ts'
export type { AtExchange, FromExchange } from './exchanges.ts'
export { published } from './exchanges.ts'
export { filesRest, looseObject } from './file-places.ts'
export {
  destination,
  fitCell,
  fitChoice,
  folderPlace,
  install,
  installBrush,
  installFile,
  mend,
  mendFile,
  standInFile,
} from './fit.ts'
export { followedDay, followedFile, followedFolder, followedPart } from './followed.ts'
export type { LineBrush } from './gather.ts'
export { gather, gatherFile, gatherLine, upload } from './gather.ts'
export { delivery, handOut, handOutNote } from './hand-outs.ts'
export { job } from './jobs.ts'
export { keptSearch } from './kept-searches.ts'
export type { BrushSnapshot } from './library.ts'
export { blob, blobPiece, brush, brushVersion, rackSet, setCount, setItem, tip, tipFrame } from './library.ts'
export { mail, mailTemplate } from './mail.ts'
export { material } from './materials.ts'
export type { FrozenDestination, LetPass, ReleaseBrush } from './packs.ts'
export { brushFigures, letPass, pack, packBrush, packSet, release } from './packs.ts'
export { parcel } from './parcels.ts'
export { phoneLink } from './phone-links.ts'
export { pocket, pocketItem } from './pockets.ts'
export type { MeetingKind } from './presence.ts'
export { lastSave, MEETING_KINDS, presence } from './presence.ts'
export { recipient } from './recipients.ts'
export { comparedMark, keptBoth, marksApart } from './same-marks.ts'
export { setupCard } from './setup-cards.ts'
export { purchase, shop, shopProduct } from './shops.ts'
export { signingKey } from './signing.ts'
export { source, sourceMade } from './sources.ts'
export { strokeLook } from './stroke-looks.ts'
export type { LineTaken } from './taken.ts'
export { takenBrush, takenPack } from './taken.ts'
export { brushWord, libraryWord } from './words.ts'
