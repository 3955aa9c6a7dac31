import { transliterate } from 'transliteration'

/**
 * A name as it looks at a glance: in plain letters, with signs that are taken for one another made one. A choice by eye, in
 * the spirit of the skeletons of Unicode Technical Standard 39, section 4.
 */
export const lookOf = (name: string): string =>
  transliterate(name.normalize('NFKC'))
    .toLowerCase()
    .replace(/rn/g, 'm')
    .replace(/vv/g, 'w')
    .replace(/[1il|!]/g, 'l')
    .replace(/[0o]/g, 'o')
    .replace(/5/g, 's')
    .replace(/[^a-z2-9]+/g, ' ')
    .trim()
