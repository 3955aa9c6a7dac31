// Checks that imports point only the way docs/architecture.md says. Run as `npm run arrows`, or with the folder of a checkout.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { dirname, join, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = resolve(process.argv[2] ?? join(dirname(fileURLToPath(import.meta.url)), '..'))

/** Which of our own parts each part may import from. The first rule whose `from` fits counts. */
const core = (...parts) => new RegExp(`^core/src/(${parts.join('|')})`)
/** What every part of core may use. */
const BASE = ['errors', 'group-by', 'limits', 'hashes', 'sha-state', 'names', 'number-row']
/** core's rooms from the ground up: each may use itself, the base, and what stands behind it here. */
const CORE_ROOMS = {
  raster: [],
  mesh: [],
  formats: ['raster', 'mesh'],
  brush: ['raster'],
  grain: ['brush', 'raster'],
  stroke: ['grain', 'brush', 'raster'],
  alike: ['brush', 'raster'],
  render: ['stroke', 'grain', 'brush', 'raster'],
  looks: ['alike', 'render', 'stroke', 'brush', 'raster'],
  make: ['brush', 'mesh', 'raster'],
  frames: ['brush', 'raster'],
  'brush-file': ['formats', 'mesh', 'trace', 'grain', 'brush', 'raster'],
  compare: ['raster'],
  newer: ['pack', 'brush'],
  many: ['forms', 'members', 'formats', 'brush'],
  same: ['editions', 'pack', 'alike', 'brush'],
  setup: ['pack'],
  // a stand-in reads by its own rules: nothing of what wrote its files
  'stand-ins': ['brush', 'raster'],
  trace: [],
  destinations: ['trace', 'pack', 'brush-file', 'formats', 'mesh', 'render', 'stroke', 'grain', 'brush', 'raster'],
  installs: [],
  'loose-ends': ['destinations', 'alike', 'formats', 'brush'],
  'round-trip': [
    'trace',
    'stand-ins',
    'destinations',
    'compare',
    'formats',
    'render',
    'stroke',
    'grain',
    'brush',
    'raster',
  ],
  pack: ['brush-file', 'formats', 'mesh', 'brush', 'raster'],
  members: [],
  followed: [],
  exchange: ['releases', 'formats', 'brush'],
  forms: ['members', 'formats', 'brush', 'editions'],
  people: ['formats'],
  mail: [],
  shop: ['people', 'formats'],
  editions: ['pack', 'brush'],
  help: ['formats'],
  cover: ['render', 'stroke', 'grain', 'brush', 'raster'],
  sheet: ['help', 'pack', 'render', 'stroke', 'formats', 'grain', 'brush', 'raster'],
  releases: ['pack', 'brush'],
  'check-list': ['destinations', 'pack', 'render', 'stroke', 'frames', 'formats', 'grain', 'brush', 'raster'],
}
/** Rooms inside core's stroke; whatever lies beside them puts them together. */
const STROKE_ROOMS = { path: [], kernel: [], stamp: ['path', 'kernel'], ribbon: ['path', 'kernel'] }
/** The files of stroke that its inner rooms may use too. */
const STROKE_SHARED = ['stroke/(stroke|layer-grain|levels|level-ladder)']
const strokeShared = ['raster', 'brush', 'grain']

/** The server's rooms; routes and what puts the server together may use them all. */
const SERVER_ROOMS = {
  workers: [],
  pictures: ['workers'],
  queue: [],
  library: ['pictures', 'workers', 'queue'],
  gather: ['pictures', 'workers', 'queue', 'library'],
  make: ['pictures', 'workers', 'queue'],
  'same-marks': ['pictures', 'workers', 'queue', 'library', 'gather'],
  looks: ['workers', 'queue'],
  fit: ['pictures', 'workers', 'queue', 'library'],
  'check-list': ['pictures', 'workers', 'queue', 'library', 'gather', 'fit'],
  'hand-out': ['pictures', 'workers', 'queue', 'library', 'gather', 'fit', 'check-list'],
  'whole-library': ['pictures', 'workers', 'queue', 'library', 'fit', 'hand-out'],
  parcels: ['pictures', 'workers', 'queue', 'library', 'fit', 'hand-out', 'whole-library'],
  people: [],
  mail: ['queue'],
  shops: ['hand-out', 'mail'],
  exchanges: ['pictures', 'workers', 'queue', 'library', 'gather', 'hand-out'],
  // programs of their own: they know nothing of the server
  mailbox: [],
  kiosk: [],
  exchange: ['workers'],
  files: ['pictures'],
  starter: ['pictures', 'workers'],
}
const SERVER_BASE = /^server\/src\/(db\/|asking|look-again|deps|app-deps|events|errors|log|seal|security-log)/

const RULES = [
  { from: /^core\/src\/(errors|limits|number-row|group-by)\.ts$/, to: [core('errors', 'limits')] },
  {
    from: /^core\/src\/(hashes|sha-state|names)\.ts$/,
    to: [core('errors', 'limits', 'hashes', 'raster/pixels', 'formats/(bytes|text)')],
  },
  ...Object.entries(STROKE_ROOMS).map(([room, below]) => ({
    from: core(`stroke/${room}/`),
    to: [
      core(
        ...BASE,
        `stroke/${room}/`,
        ...below.map((each) => `stroke/${each}/`),
        ...STROKE_SHARED,
        ...strokeShared.map((each) => `${each}/`),
      ),
    ],
  })),
  ...Object.entries(CORE_ROOMS).map(([room, below]) => ({
    from: core(`${room}/`),
    to: [core(...BASE, `${room}/`, ...below.map((each) => `${each}/`))],
  })),
  // what server and shell both need of Node
  { from: /^node\//, to: [/^node\//, /^core\//] },
  // content that code draws: the starter library, the demo
  { from: /^drawn\//, to: [/^drawn\//, /^node\//, /^core\//] },
  { from: /^server\/src\/db\//, to: [/^server\/src\/db\//, /^core\//] },
  ...Object.entries(SERVER_ROOMS).map(([room, below]) => ({
    from: new RegExp(`^server/src/${room}/`),
    to: [
      SERVER_BASE,
      /^core\//,
      /^(node|drawn)\//,
      ...[room, ...below].map((each) => new RegExp(`^server/src/${each}/`)),
    ],
  })),
  { from: /^server\/src\/demo\//, to: [/^server\/src\//, /^core\//, /^(node|drawn)\//] },
  { from: /^server\/src\/routes\//, to: [/^server\/src\/(?!demo)/, /^core\//, /^(node|drawn)\//] },
  {
    from: /^server\/src\//,
    to: [/^server\/src\/(?!demo)/, /^core\//, /^(node|drawn)\//],
    except: [/^server\/src\/main\.ts$/],
  },
  { from: /^server\/src\/main\.ts$/, to: [/^server\/src\//] },
  // several features show the same of a recipe, its words and its numbers, or are drawn on in the same way
  {
    from: /^web\/src\/components\//,
    to: [
      /^web\/src\/components\//,
      /^core\/src\/(brush\/recipe|raster\/srgb|number-row|help\/help-page|make\/pen-drawing)/,
    ],
  },
  { from: /^web\/src\/api\//, to: [/^web\/src\/api\//], types: [/^server\//] },
  { from: /^web\/src\/data\//, to: [/^web\/src\/(data|api)\//, /^core\//], types: [/^server\//] },
  { from: /^web\/src\/ahead\//, to: [/^web\/src\/(ahead|data|api|components)\//, /^core\//] },
  { from: /^web\/src\/real-folder\//, to: [/^web\/src\/(real-folder|data|api|components)\//, /^core\//] },
  { from: /^web\/src\/parcels\//, to: [/^web\/src\/(parcels|data|api|components)\//] },
  { from: /^web\/src\/pad\//, to: [/^web\/src\/(pad|components|workers)\//] },
  { from: /^web\/src\/acts\//, to: [/^web\/src\/(acts|data|api|components)\//] },
  { from: /^web\/src\/meeting\//, to: [/^web\/src\/(meeting|data|api|components)\//, /^core\//] },
  { from: /^web\/src\/workers\//, to: [/^web\/src\/workers\//, /^core\//] },
  {
    from: /^web\/src\/features\/([^/]+)\//,
    to: [/^web\/src\/(acts|ahead|meeting|pad|real-folder|parcels|data|api|components|workers)\//, /^core\//],
    own: true,
  },
  // the shell shows what runs and who is signed in on every page
  { from: /^web\/src\/features\/shell\//, to: [/^web\/src\/features\/(jobs|account)\//] },
  { from: /^web\/src\//, to: [/^web\/src\//, /^core\//] },
  { from: /^cli\//, to: [/^cli\//, /^core\//, /^node\//] },
  { from: /^e2e\//, to: [/^e2e\//, /^core\//, /^scripts\/(postgres|chromium)/] },
]

const PACKAGE = {
  '@satchel/core': 'core/src',
  '@satchel/node': 'node/src',
  '@satchel/drawn': 'drawn/src',
  '@satchel/server': 'server/src',
}
const IMPORT = /^\s*(?:import|export)\s+(type\s+)?(?:[^'"]*?\sfrom\s+)?['"]([^'"]+)['"]/gm

function* sources(folder) {
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name)
    if (entry.isDirectory() && !['node_modules', 'dist', 'drizzle'].includes(entry.name)) yield* sources(path)
    else if (/\.tsx?$/.test(entry.name) && !/\.(test|drill)\.tsx?$/.test(entry.name) && !path.includes('/testing'))
      yield path
  }
}

/** Where an import leads inside this project, or undefined for a package from outside. */
function target(file, specifier) {
  if (specifier.startsWith('.')) return relative(root, resolve(dirname(file), specifier))
  const own = Object.keys(PACKAGE).find((name) => specifier.startsWith(`${name}/`))
  return own && specifier.replace(own, PACKAGE[own])
}

/** Ways of imports that come back to where they began; of several that share a file, the first. */
function findCircles(graph) {
  const [done, circles] = [new Set(), []]
  const walk = (file, way) => {
    const at = way.indexOf(file)
    if (at >= 0) {
      circles.push([...way.slice(at), file])
      return
    }
    if (done.has(file)) return
    for (const next of graph.get(file) ?? []) walk(next, [...way, file])
    done.add(file)
  }
  for (const file of graph.keys()) walk(file, [])
  return circles
}

const problems = []
/** What each file imports of ours, types too. */
const graph = new Map()
for (const part of ['core/src', 'server/src', 'web/src', 'cli/src', 'e2e'].filter((each) =>
  existsSync(join(root, each)),
)) {
  for (const file of sources(join(root, part))) {
    const from = relative(root, file)
    const rules = RULES.filter((rule) => rule.from.test(from) && !rule.except?.some((each) => each.test(from)))
    const [rule] = rules
    if (!rule) {
      problems.push(`${from}: no rule covers it`)
      continue
    }
    // a feature may import itself, and what a narrower rule adds
    const own = rule.own ? from.match(rule.from)?.[0] : undefined
    const allowed = rule.own
      ? [
          ...rule.to,
          ...rules
            .slice(1)
            .filter((each) => each.from.source.includes('features'))
            .flatMap((each) => each.to),
        ]
      : rule.to
    for (const [, isType, specifier] of readFileSync(file, 'utf8').matchAll(IMPORT)) {
      const to = target(file, specifier)
      if (!to) continue
      graph.set(from, [...(graph.get(from) ?? []), /\.tsx?$/.test(to) ? to : `${to}.ts`])
      if (own && to.startsWith(own)) continue
      if (allowed.some((each) => each.test(to))) continue
      if (isType && rule.types?.some((each) => each.test(to))) continue
      problems.push(`${from} must not import ${to}`)
    }
  }
}
for (const circle of findCircles(graph)) problems.push(`a circle: ${circle.join(' > ')}`)
for (const problem of problems) console.error(problem)
console.log(
  problems.length === 0 ? 'All imports point the right way.' : `${problems.length} imports point the wrong way.`,
)
process.exit(problems.length === 0 ? 0 : 1)
