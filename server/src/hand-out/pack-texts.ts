import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import { toOneLine } from '@satchel/core/formats/text'
import { RELEASED_PATHS } from '@satchel/core/pack/issued/released-paths'
import { PACK_EXTENSION, type PackManifest } from '@satchel/core/pack/manifest'
import { SIGNATURE_PATH, SIGNER_PATH } from '@satchel/core/pack/signature'
import { SUMS_PATH } from '@satchel/core/pack/sums'
import { HELP_PATH, SHEET_PATH } from '@satchel/core/pack/write'
import licences from 'spdx-license-list'

const resolve = createRequire(import.meta.url).resolve

const OPEN_FILES_SAID = [
  '  Each set is a folder; brushes that stand by themselves lie beside them. Every brush is there twice:',
  "  NAME.png   the picture: black paints, or the brush's own colours; several frames as an animated PNG",
  '  NAME.gbr   an open brush file with one picture',
  '  NAME.gih   an open brush file with several pictures',
]

/** The README.txt of a download. */
export function packReadme(
  manifest: PackManifest,
  {
    signedBy,
    hasHelp,
    hasSheet,
    hasOpenFiles = true,
    apps,
    isForCopies = false,
  }: {
    /** The fingerprint of the key. */
    signedBy: string
    /** Whether the help lies beside this as a page. */
    hasHelp: boolean
    /** Whether all strokes lie beside this to be printed. */
    hasSheet: boolean
    /** Whether each set is a folder of open files. */
    hasOpenFiles?: boolean
    /** The folders of apps. */
    apps: readonly string[]
    /** Whether copies of it are issued to people, each with its own name in it. */
    isForCopies?: boolean
  },
): string {
  const { title, maker, licence, release, help, single, sets, brushes, destinations } = manifest
  const nameOf = new Map(brushes.map(({ id, name }) => [id, name]))
  const notes = brushes.filter(({ note }) => note !== '')
  const lines = [
    release === '' ? title : `${title}, release ${release}`,
    ...(maker ? [`Made by ${maker}`] : []),
    `Licence: ${licence || 'see LICENSE.txt'}`,
    '',
    `${brushes.length} brushes in ${sets.length} sets${single.length > 0 ? ` and ${single.length} by themselves` : ''}:`,
    ...single.map((id) => `  ${nameOf.get(id)}`),
    ...sets.map((set) => `  ${set.name} (${set.brushes.length})`),
    '',
    ...(destinations.length > 0 ? [`Meant for ${destinations.join(', ')}`, ''] : []),
    ...(notes.length > 0
      ? ['Notes', ...notes.map(({ name, note }) => `  ${name}: ${toOneLine(note, note.length)}`), '']
      : []),
    ...(help.trim() ? [help.trim(), ''] : []),
    'What is here',
    ...(hasOpenFiles ? OPEN_FILES_SAID : []),
    ...(hasHelp ? [`  ${HELP_PATH} has the help and the notes, laid out to be read in a browser.`] : []),
    ...(hasSheet ? [`  ${SHEET_PATH} has every stroke, to be printed.`] : []),
    ...(apps.length > 0
      ? [
          '  For some apps there is a folder of its own, with a page that says what to press:',
          ...apps.map((app) => `  ${app}`),
        ]
      : []),
    `  *${PACK_EXTENSION} holds everything, with all settings, for Gentle Satchel.`,
    '',
    'To check that nothing was damaged on its way: sha256sum -c SHA256SUMS',
    "To check that nobody changed it since, see that this key is the maker's, and run openssl:",
    `  ${signedBy}`,
    `  openssl pkeyutl -verify -pubin -inkey ${SIGNER_PATH} -rawin -in ${SUMS_PATH} -sigfile ${SIGNATURE_PATH}`,
    ...(isForCopies
      ? [
          `${RELEASED_PATHS.get(SUMS_PATH)} lists the files as they were released, before they said whom this copy is for.`,
        ]
      : []),
    '',
  ]
  return lines.join('\n')
}

/** Whether a licence is one of the SPDX list. */
export const isSpdx = (id: string): boolean => Object.hasOwn(licences, id)

/** The whole text of a licence: from the SPDX list, else the curator's own words. */
export async function licenceText(id: string, own: string, maker: string): Promise<string> {
  const notice = `Licence: ${id || 'none stated'}\n${maker ? `Maker: ${maker}\n` : ''}\n`
  if (own.trim()) return `${notice}${own.trim()}\n`
  if (!isSpdx(id)) return `${notice}No licence text was given. Ask the maker before you hand these brushes on.\n`
  const full = JSON.parse(await readFile(resolve(`spdx-license-list/licenses/${id}.json`), 'utf8')) as {
    licenseText: string
  }
  return `${notice}${full.licenseText.trim()}\n`
}
