import { fitName } from '../destinations/fit-name.ts'
import { toNameKey } from '../formats/text.ts'
import { SEAM_VISIBLE } from '../grain/seam.ts'
import { HEAVY_TIP_SIDE_PX } from '../limits.ts'
import type { BrushFigures } from './figures.ts'
import { whyNotTogether } from './licences.ts'
import { lookOf } from './look-alike.ts'
import type { Subject, SubjectBrush } from './subject.ts'

/** How much a finding matters, what matters most first: a release waits for it, it deserves care, or it is told. */
export const WEIGHTS = ['stops', 'care', 'told'] as const
export type Weight = (typeof WEIGHTS)[number]

/** What mends a finding by itself. */
export const MENDS = {
  smaller: `Make a ${HEAVY_TIP_SIDE_PX} px copy`,
  evenOut: 'Even them out',
  blacken: 'Make the shadow black',
  dropFrames: 'Take those frames out',
  strokeThumbnail: 'Take the stroke as picture',
  closeSeam: 'Close the seam',
  takeMaker: 'Take the maker of the pack',
  takeLicence: 'Take the licence of the pack',
  numberName: 'Give it a number',
  lookedAt: 'I have looked at it',
} as const
export type Mend = keyof typeof MENDS

/** Where a finding is mended by hand. */
export type Place = 'tune' | 'frames' | 'grains' | 'pack' | 'fit'

/** Something that a rule has to say. Without a brush it is about the pack. */
export type Said = {
  brushId?: string /** What of it, where a rule may find several. */
  about?: string
  sentence: string
}

export type Rule = {
  /** What all findings of this kind are called together. */
  title: string
  weight: Weight
  /** Why it matters. */
  why: string
  mend?: Mend
  place: Place
  find(subject: Subject): Iterable<Said>
}

const ofBrushes =
  (find: (brush: SubjectBrush, subject: Subject) => string | undefined) =>
  (subject: Subject): Said[] =>
    subject.brushes.flatMap((brush) => {
      const sentence = find(brush, subject)
      return sentence === undefined ? [] : [{ brushId: brush.id, sentence }]
    })
const ofFigures = (find: (figures: BrushFigures, brush: SubjectBrush) => string | undefined) =>
  ofBrushes((brush) => brush.figures && find(brush.figures, brush))
const ofPack =
  (find: (subject: Subject) => string | undefined) =>
  (subject: Subject): Said[] => {
    const sentence = find(subject)
    return sentence === undefined ? [] : [{ sentence }]
  }

/** Groups of brushes of one key, of two or more. */
function together(brushes: readonly SubjectBrush[], keyOf: (brush: SubjectBrush) => string): SubjectBrush[][] {
  const groups = new Map<string, SubjectBrush[]>()
  for (const brush of brushes) {
    const key = keyOf(brush)
    const group = groups.get(key)
    if (group) group.push(brush)
    else groups.set(key, [brush])
  }
  return [...groups.values()].filter((group) => group.length > 1)
}

/** Less of its picture than this painted, and the rest is margin; chosen by eye. */
const FILLED_FROM = 0.25
/** A stroke whose most painted place differs from the paper by less is not seen; chosen by eye, of 255 levels. */
const SEEN_LEVELS = 12
/** Names that say nothing of a brush. */
const NAMELESS = /^(?:unnamed|untitled|brush|new brush|tip|image|img|scan|picture|dsc)[ _-]*\d*$/i
/** A brush of one plain word is named in any sentence: only what is quoted, or has several words, is taken for a name. */
const isPlainWord = (name: string) => !/[ \d]/.test(name.trim())

const seamShows = ({ seam }: SubjectBrush, of: 'grain' | 'strip') =>
  seam?.of === of && seam.figure > SEAM_VISIBLE
    ? `The seam of its ${of} shows: ${seam.figure.toFixed(2)}, and ${SEAM_VISIBLE} is seamless.`
    : undefined

const list = (numbers: readonly number[]) => numbers.join(', ')
const frames = (numbers: readonly number[]) => `${numbers.length === 1 ? 'Frame' : 'Frames'} ${list(numbers)}`

/** Every rule of the check list, one row each, in the order in which findings are shown within a weight. */
export const RULES = {
  empty: {
    title: 'Nothing in the pack',
    weight: 'stops',
    why: 'A release of nothing helps nobody.',
    place: 'pack',
    find: ofPack(({ brushes }) => (brushes.length === 0 ? 'The pack holds no brush.' : undefined)),
  },
  notMeasured: {
    title: 'Brushes that could not be looked at',
    weight: 'care',
    why: 'Nothing is known of how they paint.',
    place: 'tune',
    find: ofBrushes(({ refused }) => refused),
  },
  noName: {
    title: 'Brushes without a name of their own',
    weight: 'care',
    why: 'Whoever paints with it finds it by its name.',
    place: 'tune',
    find: ofBrushes(({ name }) =>
      name.trim() === '' || NAMELESS.test(name.trim()) ? `"${name}" says nothing of it.` : undefined,
    ),
  },
  sameName: {
    title: 'Names that are there twice',
    weight: 'care',
    why: 'In a folder the second of a name is numbered, and nobody knows which is which.',
    mend: 'numberName',
    place: 'tune',
    find: ({ brushes }) =>
      together(brushes, ({ name }) => toNameKey(name.trim())).flatMap(([first, ...others]) =>
        others.map(({ id, name }) => ({
          brushId: id,
          sentence:
            name === first?.name
              ? `Another brush is called "${name}", too.`
              : `Another brush is called "${first?.name}".`,
        })),
      ),
  },
  likeName: {
    title: 'Names that look alike',
    weight: 'told',
    why: 'Names that differ by a sign one hardly sees are taken for one another.',
    place: 'tune',
    find: ({ brushes }) =>
      together(brushes, ({ name }) => lookOf(name) || name).flatMap(([first, ...others]) =>
        others
          .filter(({ name }) => first && toNameKey(name.trim()) !== toNameKey(first.name.trim()))
          .map(({ id, name }) => ({ brushId: id, sentence: `"${name}" looks like "${first?.name}".` })),
      ),
  },
  otherNameThere: {
    title: 'Names that an app does not take',
    weight: 'told',
    why: 'It is called otherwise there than in your help text.',
    place: 'tune',
    find: ({ brushes, destinations }) =>
      brushes.flatMap(({ id, name }) =>
        destinations.flatMap(({ id: destinationId, name: app, rules }) => {
          const there = fitName(name, rules)
          // the case of letters is how an app writes all names
          return toNameKey(there) === toNameKey(name)
            ? []
            : [{ brushId: id, about: destinationId, sentence: `In ${app} "${name}" is called "${there}".` }]
        }),
      ),
  },
  thumbnailBlank: {
    title: 'Thumbnails that show nothing',
    weight: 'care',
    why: 'A blank picture in a list says nothing of the brush behind it.',
    mend: 'strokeThumbnail',
    place: 'tune',
    find: ofFigures(({ isThumbnailBlank }) => (isThumbnailBlank ? 'Its thumbnail is blank.' : undefined)),
  },
  thumbnailStale: {
    title: 'Thumbnails of how a brush was',
    weight: 'care',
    why: 'The picture was made once, and the brush has changed since.',
    mend: 'strokeThumbnail',
    place: 'tune',
    find: ofBrushes(({ isThumbnailStale }) =>
      isThumbnailStale ? 'Its thumbnail was made before the brush was changed.' : undefined,
    ),
  },
  grainGone: {
    title: 'Grains that are gone',
    weight: 'stops',
    why: 'Without its grain the brush paints otherwise.',
    place: 'tune',
    find: ofBrushes(({ isGrainGone }) => (isGrainGone ? 'The grain that it names is not in the library.' : undefined)),
  },
  seam: {
    title: 'Grains whose seam shows',
    weight: 'care',
    why: 'A tile that does not join itself draws a grid into every wash.',
    mend: 'closeSeam',
    place: 'grains',
    find: ofBrushes((brush) => seamShows(brush, 'grain')),
  },
  stripSeam: {
    title: 'Strips whose seam shows',
    weight: 'care',
    why: 'Where the strip begins anew a step is seen. Look for where it joins, under Path.',
    place: 'tune',
    find: ofBrushes((brush) => seamShows(brush, 'strip')),
  },
  framesBlank: {
    title: 'Frames that paint nothing',
    weight: 'care',
    why: 'Where such a frame comes, the stroke has a hole.',
    mend: 'dropFrames',
    place: 'frames',
    find: ofFigures(({ blank }, brush) =>
      blank.length > 0 && blank.length < brush.frames
        ? `${frames(blank)} of ${brush.frames} paint nothing.`
        : undefined,
    ),
  },
  framesUnused: {
    title: 'Frames that never come',
    weight: 'care',
    why: 'They are handed on, and nobody ever sees them.',
    mend: 'dropFrames',
    place: 'frames',
    find: ofFigures(({ unreached }, brush) =>
      unreached.length > 0
        ? `${frames(unreached)} of ${brush.frames} never come: no pressure, tilt or speed leads to them.`
        : undefined,
    ),
  },
  framesUneven: {
    title: 'Frames that stand out',
    weight: 'told',
    why: 'One frame that is larger or paler than its neighbours is seen again and again in a stroke.',
    mend: 'evenOut',
    place: 'frames',
    find: ofFigures(({ uneven }) =>
      uneven.length > 0
        ? `${uneven.slice(0, 3).join('; ')}${uneven.length > 3 ? ` and ${uneven.length - 3} more` : ''}.`
        : undefined,
    ),
  },
  framesSame: {
    title: 'Frames that look the same',
    weight: 'told',
    why: 'A frame twice makes the stroke repeat itself sooner.',
    place: 'frames',
    find: ofFigures(({ same }) =>
      same.length > 0 ? `Frames ${same.map((group) => list(group)).join(' and ')} look the same.` : undefined,
    ),
  },
  greyShadow: {
    title: 'Shadows that take on the colour',
    weight: 'care',
    why: 'A grey shadow that lets through becomes coloured when the mark is; black that lets through stays a shadow.',
    mend: 'blacken',
    place: 'frames',
    find: ofFigures(({ shadows }, brush) =>
      shadows.length === 0
        ? undefined
        : brush.frames === 1
          ? 'It has a grey shadow that lets through.'
          : `${frames(shadows)} ${shadows.length === 1 ? 'has' : 'have'} a grey shadow that lets through.`,
    ),
  },
  heavy: {
    title: 'Heavy tips',
    weight: 'care',
    why: 'Large tips are slow to paint with, and some apps refuse them.',
    mend: 'smaller',
    place: 'tune',
    find: ofFigures(({ sidePx }) =>
      sidePx > HEAVY_TIP_SIDE_PX ? `Its tip is ${sidePx} px long; ${HEAVY_TIP_SIDE_PX} do.` : undefined,
    ),
  },
  margins: {
    title: 'Wide margins',
    weight: 'told',
    why: 'Size and spacing count from the picture, margins too, so the mark comes out smaller than its figure says.',
    place: 'frames',
    find: ofFigures(({ filled, blank }, brush) =>
      filled < FILLED_FROM && blank.length < brush.frames
        ? `Only ${Math.round(filled * 100)} % of its picture is mark, the rest is margin.`
        : undefined,
    ),
  },
  nothingShows: {
    title: 'Strokes that do not show',
    weight: 'stops',
    why: 'Whoever paints with it sees nothing, and takes it for broken.',
    place: 'tune',
    find: ofFigures(({ shows }) =>
      shows !== null && shows < SEEN_LEVELS
        ? shows === 0
          ? 'Its stroke leaves nothing on paper.'
          : `Its stroke is hardly seen: ${shows} of 255 levels at most. Opacity or flow may be too low.`
        : undefined,
    ),
  },
  twice: {
    title: 'The same brush twice',
    weight: 'care',
    why: 'Two that paint the same make the pack longer, not richer.',
    place: 'pack',
    find: ({ brushes }) =>
      together(brushes, ({ paints }) => paints).flatMap(([first, ...others]) =>
        others.map(({ id, name }) => ({ brushId: id, sentence: `"${name}" paints the same as "${first?.name}".` })),
      ),
  },
  alike: {
    title: 'Tips that look alike',
    weight: 'told',
    why: 'The same mark under two names is what people notice first in a pack.',
    place: 'pack',
    find: ({ brushes, alike }) => {
      const byId = new Map(brushes.map((brush) => [brush.id, brush]))
      return (alike ?? []).flatMap(([one, other]) => {
        const [first, second] = [byId.get(one), byId.get(other)]
        // the same brush twice is said by another rule
        if (!first || !second || first.paints === second.paints) return []
        return [
          { brushId: other, about: one, sentence: `The tip of "${second.name}" looks like that of "${first.name}".` },
        ]
      })
    },
  },
  noLicence: {
    title: 'No licence',
    weight: 'stops',
    why: 'Without a licence nobody may use what they get.',
    place: 'pack',
    find: ofPack(({ licence }) => (licence.trim() === '' ? 'The pack has no licence.' : undefined)),
  },
  licenceForbids: {
    title: 'Licences that do not go together',
    weight: 'stops',
    why: 'What a brush was given to you under goes before what you hand it on under. Advice, no law: read both.',
    place: 'tune',
    find: ofBrushes(({ licence }, pack) => {
      const why = whyNotTogether(licence, pack.licence)
      return why && `${why}.`
    }),
  },
  licenceMissing: {
    title: 'Brushes without a licence',
    weight: 'told',
    why: 'They go out under the licence of the pack; see that this is right.',
    mend: 'takeLicence',
    place: 'tune',
    find: ofBrushes(({ licence }, pack) =>
      licence === '' && pack.licence !== '' ? 'It has no licence of its own.' : undefined,
    ),
  },
  noMaker: {
    title: 'Brushes without a maker',
    weight: 'told',
    why: 'Most licences ask that the maker is named.',
    mend: 'takeMaker',
    place: 'tune',
    find: ofBrushes(({ maker }, pack) =>
      maker === '' && pack.maker !== '' ? 'Nobody is named as its maker.' : undefined,
    ),
  },
  packMaker: {
    title: 'A pack without a maker',
    weight: 'care',
    why: 'Whoever gets it wants to know whose it is.',
    place: 'pack',
    find: ofPack(({ maker }) => (maker.trim() === '' ? 'The pack names no maker.' : undefined)),
  },
  likeness: {
    title: 'Brushes that arrive unlike themselves',
    weight: 'care',
    why: 'In the app they are meant for they paint otherwise than here.',
    place: 'fit',
    find: ({ brushes, destinations, leastLikeness }) => {
      const nameOf = new Map(destinations.map(({ id, name }) => [id, name]))
      return brushes.flatMap(({ id, likeness }) =>
        likeness.flatMap(({ destinationId, score }) => {
          const app = nameOf.get(destinationId)
          if (!app || score === undefined || score >= leastLikeness) return []
          const sentence =
            score < 0
              ? `It cannot be written for ${app}.`
              : `In ${app} it is ${Math.round(score)} of 100 like itself; the pack asks for ${leastLikeness}.`
          return [{ brushId: id, about: destinationId, sentence }]
        }),
      )
    },
  },
  noHelp: {
    title: 'No help text',
    weight: 'told',
    why: 'A line on how to begin saves everybody a try.',
    place: 'pack',
    find: ofPack(({ help }) => (help.trim() === '' ? 'The pack has no help text.' : undefined)),
  },
  helpNames: {
    title: 'Help that names what is not there',
    weight: 'care',
    why: 'Whoever reads it looks for something that they did not get.',
    place: 'pack',
    find: ({ help, elsewhere, brushes, setNames }) => {
      const here = new Set([...setNames, ...brushes.map(({ name }) => name)].map(toNameKey))
      const named = (names: readonly string[], what: 'set' | 'brush') =>
        [...new Set(names)]
          .filter((name) => !here.has(toNameKey(name)) && isNamedIn(help, name, what))
          .map((name) => ({
            about: name,
            sentence: `The help text names the ${what} "${name}", which is not in the pack.`,
          }))
      return [...named(elsewhere.sets, 'set'), ...named(elsewhere.brushes, 'brush')]
    },
  },
  noCover: {
    title: 'No cover',
    weight: 'told',
    why: 'The cover is what people see first.',
    place: 'pack',
    find: ofPack(({ hasCover }) => (hasCover ? undefined : 'The pack has no cover.')),
  },
  changed: {
    title: 'Changed since you looked',
    weight: 'told',
    why: 'What was changed in passing goes out with everything else.',
    mend: 'lookedAt',
    place: 'tune',
    find: ofBrushes(({ version, looked }) =>
      looked !== undefined && version !== looked ? `It is at version ${version}; you looked at ${looked}.` : undefined,
    ),
  },
} as const satisfies Record<string, Rule>

export type RuleName = keyof typeof RULES
export const RULE_NAMES = Object.keys(RULES) as RuleName[]

/** Whether a text names something: in its own letters, with no letter or digit right beside it. */
function isNamedIn(text: string, name: string, what: 'set' | 'brush'): boolean {
  const isWord = (sign: string | undefined) => sign !== undefined && /[\p{L}\p{N}]/u.test(sign)
  const isQuote = (sign: string | undefined) => sign !== undefined && /["'“”‘’«»„]/.test(sign)
  for (let at = text.indexOf(name); at >= 0 && name !== ''; at = text.indexOf(name, at + 1)) {
    const [before, after] = [text[at - 1], text[at + name.length]]
    if (isWord(before) || isWord(after)) continue
    if (what === 'set' || !isPlainWord(name) || (isQuote(before) && isQuote(after))) return true
  }
  return false
}
