import { fitName } from '../destinations/fit-name.ts'
import { toNameKey } from '../formats/text.ts'
import { SEAM_VISIBLE } from '../grain/seam.ts'
import { HEAVY_TIP_SIDE_PX } from '../limits.ts'
import type { BrushFigures } from './figures.ts'
import { whyNotTogether } from './licences.ts'
import { lookOf } from './look-alike.ts'
import type { RuleName } from './rules.ts'
import type { Subject, SubjectBrush } from './subject.ts'

/** Something that a rule has to say. Without a brush it is about the pack. */
export type Said = {
  brushId?: string /** What of it, where a rule may find several. */
  about?: string
  sentence: string
}

type Finder = (subject: Subject) => Said[]

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

/** What each rule finds; apart from its words, which a page shows without any of this. */
export const FINDERS: Record<RuleName, Finder> = {
  empty: ofPack(({ brushes }) => (brushes.length === 0 ? 'The pack holds no brush.' : undefined)),
  notMeasured: ofBrushes(({ refused }) => refused),
  noName: ofBrushes(({ name }) =>
    name.trim() === '' || NAMELESS.test(name.trim()) ? `"${name}" says nothing of it.` : undefined,
  ),
  sameName: ({ brushes }) =>
    together(brushes, ({ name }) => toNameKey(name.trim())).flatMap(([first, ...others]) =>
      others.map(({ id, name }) => ({
        brushId: id,
        sentence:
          name === first?.name
            ? `Another brush is called "${name}", too.`
            : `Another brush is called "${first?.name}".`,
      })),
    ),
  likeName: ({ brushes }) =>
    together(brushes, ({ name }) => lookOf(name) || name).flatMap(([first, ...others]) =>
      others
        .filter(({ name }) => first && toNameKey(name.trim()) !== toNameKey(first.name.trim()))
        .map(({ id, name }) => ({ brushId: id, sentence: `"${name}" looks like "${first?.name}".` })),
    ),
  otherNameThere: ({ brushes, destinations }) =>
    brushes.flatMap(({ id, name }) =>
      destinations.flatMap(({ id: destinationId, name: app, rules }) => {
        const there = fitName(name, rules)
        // the case of letters is how an app writes all names
        return toNameKey(there) === toNameKey(name)
          ? []
          : [{ brushId: id, about: destinationId, sentence: `In ${app} "${name}" is called "${there}".` }]
      }),
    ),
  thumbnailBlank: ofFigures(({ isThumbnailBlank }) => (isThumbnailBlank ? 'Its thumbnail is blank.' : undefined)),
  thumbnailStale: ofBrushes(({ isThumbnailStale }) =>
    isThumbnailStale ? 'Its thumbnail was made before the brush was changed.' : undefined,
  ),
  grainGone: ofBrushes(({ isGrainGone }) =>
    isGrainGone ? 'The grain that it names is not in the library.' : undefined,
  ),
  seam: ofBrushes((brush) => seamShows(brush, 'grain')),
  stripSeam: ofBrushes((brush) => seamShows(brush, 'strip')),
  framesBlank: ofFigures(({ blank }, brush) =>
    blank.length > 0 && blank.length < brush.frames ? `${frames(blank)} of ${brush.frames} paint nothing.` : undefined,
  ),
  framesUnused: ofFigures(({ unreached }, brush) =>
    unreached.length > 0
      ? `${frames(unreached)} of ${brush.frames} never come: no pressure, tilt or speed leads to them.`
      : undefined,
  ),
  framesUneven: ofFigures(({ uneven }) =>
    uneven.length > 0
      ? `${uneven.slice(0, 3).join('; ')}${uneven.length > 3 ? ` and ${uneven.length - 3} more` : ''}.`
      : undefined,
  ),
  framesSame: ofFigures(({ same }) =>
    same.length > 0 ? `Frames ${same.map((group) => list(group)).join(' and ')} look the same.` : undefined,
  ),
  greyShadow: ofFigures(({ shadows }, brush) =>
    shadows.length === 0
      ? undefined
      : brush.frames === 1
        ? 'It has a grey shadow that lets through.'
        : `${frames(shadows)} ${shadows.length === 1 ? 'has' : 'have'} a grey shadow that lets through.`,
  ),
  heavy: ofFigures(({ sidePx }) =>
    sidePx > HEAVY_TIP_SIDE_PX ? `Its tip is ${sidePx} px long; ${HEAVY_TIP_SIDE_PX} do.` : undefined,
  ),
  margins: ofFigures(({ filled, blank }, brush) =>
    filled < FILLED_FROM && blank.length < brush.frames
      ? `Only ${Math.round(filled * 100)} % of its picture is mark, the rest is margin.`
      : undefined,
  ),
  nothingShows: ofFigures(({ shows }) =>
    shows !== null && shows < SEEN_LEVELS
      ? shows === 0
        ? 'Its stroke leaves nothing on paper.'
        : `Its stroke is hardly seen: ${shows} of 255 levels at most. Opacity or flow may be too low.`
      : undefined,
  ),
  twice: ({ brushes }) =>
    together(brushes, ({ paints }) => paints).flatMap(([first, ...others]) =>
      others.map(({ id, name }) => ({ brushId: id, sentence: `"${name}" paints the same as "${first?.name}".` })),
    ),
  alike: ({ brushes, alike }) => {
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
  noLicence: ofPack(({ licence }) => (licence.trim() === '' ? 'The pack has no licence.' : undefined)),
  licenceForbids: ofBrushes(({ licence }, pack) => {
    const why = whyNotTogether(licence, pack.licence)
    return why && `${why}.`
  }),
  licenceMissing: ofBrushes(({ licence }, pack) =>
    licence === '' && pack.licence !== '' ? 'It has no licence of its own.' : undefined,
  ),
  noMaker: ofBrushes(({ maker }, pack) =>
    maker === '' && pack.maker !== '' ? 'Nobody is named as its maker.' : undefined,
  ),
  packMaker: ofPack(({ maker }) => (maker.trim() === '' ? 'The pack names no maker.' : undefined)),
  likeness: ({ brushes, destinations, leastLikeness }) => {
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
  noHelp: ofPack(({ help }) => (help.trim() === '' ? 'The pack has no help text.' : undefined)),
  helpNames: ({ help, elsewhere, brushes, setNames }) => {
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
  noCover: ofPack(({ hasCover }) => (hasCover ? undefined : 'The pack has no cover.')),
  changed: ofBrushes(({ version, looked }) =>
    looked !== undefined && version !== looked ? `It is at version ${version}; you looked at ${looked}.` : undefined,
  ),
}

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
