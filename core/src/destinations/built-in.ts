import { ANGLE_MODES, FRAME_RULES } from '../brush/recipe.ts'
import { BLEND_MODES } from '../raster/blend.ts'
import { type Destination, parseDestination, type StandInName } from './destination.ts'

const ALL_CURVES = ['size', 'opacity', 'flow', 'angle', 'frame']

/** Everything that a recipe says. */
const WHOLE = {
  'mark.sizePx': true, 'mark.angle': [...ANGLE_MODES], 'mark.squash': true,
  'path.spacingPct': true, 'path.scatter': ['across', 'along'], 'path.count': true, 'path.nextFrame': [...FRAME_RULES],
  'path.taper': true, 'path.ribbon': ['stretched', 'repeated'],
  'variation.size': true, 'variation.angle': true, 'variation.squash': true, 'variation.opacity': true, 'variation.flow': true,
  'variation.hue': true, 'variation.saturation': true, 'variation.value': true,
  'hand.pressure': ALL_CURVES, 'hand.tilt': ALL_CURVES, 'hand.speed': ALL_CURVES,
  'ground.grain': ['canvas', 'stroke', 'stamp'],
  'colour.reading': ['dark', 'light', 'alpha', 'own', 'tone'], 'colour.anchorGrey': true, 'colour.opacity': true,
  'colour.flow': true, 'colour.blend': [...BLEND_MODES], 'colour.behaviour': ['paint', 'erase', 'smear'],
} // biome-ignore format: a line a group

const ANY_PICTURE = {
  leastPx: 1,
  mostPx: 8192,
  colour: true,
  square: false,
  powersOfTwo: false,
  circle: false,
  depth: 8,
  isOwnSize: false,
}

const DESCRIBED: { readonly [Name in StandInName]: unknown } = {
  dunlin: {
    version: 1,
    name: 'Dunlin',
    about: 'Paints with pixels. Scans its folder for open brushes of one picture or several, in grey or colour.',
    appVersion: '3',
    files: { single: 'gbr', several: 'gih', mostFrames: 64, folder: '{set}', grainFolder: '' },
    pictures: { ...ANY_PICTURE, mostPx: 4096, isOwnSize: true },
    names: { mostChars: 60, letters: 'any', letterCase: 'any', unique: 'folder' },
    grain: 'none',
    knows: {
      'path.spacingPct': { from: 1, to: 1000 },
      'path.nextFrame': [...FRAME_RULES],
      'colour.reading': ['light', 'own'],
    },
    afterCopying: ['Open the list of brushes.', 'Press "Scan again" below it.'],
    standIn: 'dunlin',
  },
  shearwater: {
    version: 1,
    name: 'Shearwater',
    about:
      'Paints on a tablet. Square pictures whose light pixels paint, one to a brush, the grain in a file of its own.',
    appVersion: '12',
    files: {
      single: 'png',
      several: 'first',
      mostFrames: 1,
      folder: '{set}',
      grainFolder: 'Grains',
      settings: 'tune',
    },
    pictures: { ...ANY_PICTURE, leastPx: 16, mostPx: 2048, colour: false, square: true },
    names: { mostChars: 32, letters: 'any', letterCase: 'any', unique: 'folder' },
    grain: 'beside',
    knows: {
      'mark.sizePx': { from: 1, to: 1000 },
      'mark.angle': ['fixed', 'following'],
      'mark.squash': { from: 0.1, to: 1 },
      'path.spacingPct': { from: 2, to: 400 },
      'path.scatter': ['across'],
      'path.count': { from: 1, to: 8 },
      'path.taper': true,
      'variation.size': true,
      'variation.angle': true,
      'variation.opacity': true,
      'hand.pressure': ['size', 'opacity', 'flow'],
      'hand.tilt': ['size', 'opacity'],
      'ground.grain': ['canvas', 'stamp'],
      'colour.reading': ['light'],
      'colour.opacity': { from: 0.01, to: 1 },
      'colour.flow': { from: 0.01, to: 1 },
      'colour.blend': ['normal', 'multiply'],
      'colour.behaviour': ['paint', 'erase'],
    },
    afterCopying: ['Close the app on the tablet, and open it again.'],
    standIn: 'shearwater',
  },
  plover: {
    version: 1,
    name: 'Plover',
    about:
      'Draws lines. Lays strips along them, stretched or repeated, as drawings of lines that take the chosen colour.',
    appVersion: '7',
    files: { single: 'svg', several: 'first', mostFrames: 1, folder: '{set}', grainFolder: '', settings: 'lay' },
    pictures: { ...ANY_PICTURE, mostPx: 4096, colour: false },
    names: { mostChars: 40, letters: 'plain', letterCase: 'any', unique: 'everywhere' },
    grain: 'none',
    knows: {
      'mark.sizePx': { from: 1, to: 2000 },
      'path.taper': true,
      'path.ribbon': ['stretched', 'repeated'],
      'hand.pressure': ['size'],
      'colour.reading': ['alpha'],
      'colour.opacity': true,
      'colour.blend': [...BLEND_MODES],
    },
    afterCopying: ['Open the drawer of strips.', 'Press the round arrow in it.'],
    standIn: 'plover',
  },
  turnstone: {
    version: 1,
    name: 'Turnstone',
    about: 'Sculpts. Takes greys up to 4096 px and cuts every picture to the circle inside.',
    appVersion: '2026',
    files: { single: 'png', several: 'first', mostFrames: 1, folder: '', grainFolder: '', settings: 'press' },
    pictures: { ...ANY_PICTURE, leastPx: 64, mostPx: 4096, colour: false, square: true, circle: true, depth: 16 },
    names: { mostChars: 24, letters: 'plain', letterCase: 'lower', unique: 'everywhere' },
    grain: 'none',
    knows: {
      'mark.sizePx': { from: 4, to: 4096 },
      'mark.angle': ['fixed', 'following'],
      'path.spacingPct': { from: 1, to: 200 },
      'variation.angle': true,
      'hand.pressure': ['size', 'opacity'],
      'colour.reading': ['light'],
      'colour.opacity': true,
      'colour.behaviour': ['paint', 'erase'],
    },
    afterCopying: ['Choose "Load shapes" in the list of shapes.'],
    standIn: 'turnstone',
  },
  sanderling: {
    version: 1,
    name: 'Sanderling',
    about: 'Paints with pixels and all that a recipe says. Refers to pictures and grains by their paths in a library.',
    appVersion: '5',
    files: {
      single: 'png',
      several: 'apng',
      mostFrames: 256,
      folder: '{app}/{library}/{set}',
      grainFolder: '{app}/{library}/Grains',
      settings: 'sand',
    },
    pictures: ANY_PICTURE,
    names: { mostChars: 100, letters: 'any', letterCase: 'any', unique: 'folder' },
    grain: 'path',
    knows: WHOLE,
    afterCopying: ['Choose "Libraries", then the name of the library.', 'Press "Take it anew".'],
    standIn: 'sanderling',
  },
}

/** The destinations that come with the product, one for each stand-in. */
export const BUILT_IN: { readonly [Name in StandInName]: Destination } = Object.fromEntries(
  Object.entries(DESCRIBED).map(([name, data]) => [name, parseDestination(data)]),
) as { [Name in StandInName]: Destination }
