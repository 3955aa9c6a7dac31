import type { Destination } from './destination.ts'
import type { AppTraits } from './which-app.ts'
import { extensionsOf } from './write-files.ts'

const yesOrNo = (is: boolean) => (is ? 'yes' : 'no')

/** How a described app answers what somebody can be asked about it. */
export const traitsOf = (destination: Destination): AppTraits => {
  const { files, pictures, grain, knows } = destination
  return {
    ending: extensionsOf(destination)
      .map((extension) => `.${extension}`)
      .join(' or '),
    colours: yesOrNo(pictures.colour),
    grain: yesOrNo(grain !== 'none' && knows['ground.grain'] !== false),
    pictures: yesOrNo(files.several !== 'oneEach' && files.several !== 'first' && files.mostFrames > 1),
    settings: yesOrNo(files.settings !== undefined),
  }
}

type Reason = { applies: (destination: Destination) => boolean; say: (destination: Destination) => string }

/** Why files that were fetched do not work in an app, most often first: common practice, applied to what is known of it. */
const REASONS: readonly Reason[] = [
  {
    applies: () => true,
    say: ({ name }) =>
      `The archive itself was copied. ${name} cannot look into it: unpack it, and copy what is inside its folder.`,
  },
  {
    applies: ({ files }) => files.folder.includes('/') || files.folder.includes('{'),
    say: ({ name }) => `The files lie one folder too deep, or too high. The folders go into the brush folder of ${name} as they are.`,
  },
  {
    applies: ({ grain }) => grain === 'beside' || grain === 'path',
    say: () => 'A brush paints without its grain: the folder of grains was not copied with it, or was put elsewhere.',
  },
  {
    applies: ({ files }) => files.settings !== undefined,
    say: ({ files }) => `A brush has the wrong size or spacing: its file of settings (.${files.settings}) was not copied with it.`,
  },
  {
    applies: ({ appVersion }) => /[0-9]/.test(appVersion),
    say: ({ name, appVersion }) => `The files are for ${name} ${appVersion}. An older one may not read them.`,
  },
  {
    applies: () => true,
    say: ({ name, afterCopying }) =>
      afterCopying.length > 0
        ? `The last steps were left out: ${afterCopying.join(' ')}`
        : `${name} was open while they were copied: start it anew.`,
  },
] // biome-ignore format: a table

/** The usual reasons why brushes do not show or paint in an app, a sentence each. */
export const usualReasons = (destination: Destination): string[] =>
  REASONS.filter(({ applies }) => applies(destination)).map(({ say }) => say(destination))
