import type { InferOutput } from 'valibot'
import { EXIT, UsageError } from '../problems.ts'
import { say, sayJson } from '../say.ts'
import { Given, Made, Pack, Packs } from './answers.ts'
import { type Where, Workspace, WorkspaceProblem } from './connection.ts'
import { ended } from './ended.ts'

/** Releases a pack, and waits until its download is built. */
export async function release(
  wanted: string,
  version: string,
  options: Where & { notes: string; json: boolean },
): Promise<number> {
  const there = new Workspace(options)
  const pack = await findPack(there, wanted)
  const { id } = await there.post(`/api/packs/${pack.id}/releases`, Made, { version, notes: options.notes })
  const built = await ended(there, `Release ${version}`, async () => {
    const { releases } = await there.get(`/api/packs/${pack.id}`, Pack)
    return releases.find((each) => each.id === id)
  })
  if (options.json) sayJson({ pack: pack.title, id, version: built.version })
  else say(`"${pack.title}" ${built.version} is released.`)
  return EXIT.done
}

/** Gives a release of a pack to somebody: prints their link. */
export async function handOut(
  wanted: string,
  name: string,
  options: Where & { release?: string; json: boolean },
): Promise<number> {
  const there = new Workspace(options)
  const pack = await findPack(there, wanted)
  const { releases } = await there.get(`/api/packs/${pack.id}`, Pack)
  const ready = releases.filter(({ state }) => state === 'ready')
  const given = options.release ? ready.find(({ version }) => version === options.release) : ready[0]
  if (!given) {
    const have = ready.map(({ version }) => version).join(', ')
    throw new UsageError(
      `"${pack.title}" has ${have ? `the releases ${have}` : 'no release'}; choose one that is built.`,
    )
  }
  const wish = { releaseId: given.id, name }
  const { id, link } = await there.post(`/api/packs/${pack.id}/hand-outs`, Given, wish)
  if (options.json) sayJson({ pack: pack.title, version: given.version, id, link })
  else say(link)
  return EXIT.done
}

/** A pack by its title or its id. */
async function findPack(there: Workspace, wanted: string): Promise<InferOutput<typeof Packs>['packs'][number]> {
  const { packs } = await there.get('/api/packs', Packs)
  const found = packs.filter(({ id, title }) => id === wanted || title === wanted)
  const [pack] = found
  if (!pack) {
    const titles = packs.map(({ title }) => `"${title}"`).join(', ')
    throw new WorkspaceProblem(there.shown, `there is no pack "${wanted}"${titles ? `, but ${titles}` : ''}.`)
  }
  if (found.length > 1)
    throw new WorkspaceProblem(
      there.shown,
      `${found.length} packs are called "${wanted}"; name one by its id: ${found.map(({ id }) => id).join(', ')}.`,
    )
  return pack
}
