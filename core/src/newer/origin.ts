import type { PackManifest } from '../pack/manifest.ts'

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/

/** What a pack's brush is known by in all of its releases; nothing where its id means something in that one file only. */
export const originOf = (id: string): string | undefined => (UUID.test(id) ? id : undefined)

/** What the releases of a pack are known by. Before version 7 packs had no name of their own: then by maker and title. */
export const packKey = ({ pack, maker, title }: Pick<PackManifest, 'pack' | 'maker' | 'title'>): string =>
  pack ?? `${maker}\n${title}`
