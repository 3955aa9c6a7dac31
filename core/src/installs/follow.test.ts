import { expect, it } from 'vitest'
import { followFiles, followPlaces } from './follow.ts'

const claim = (install: string, sha256: string) => ({ install, sha256 })
const file = (path: string, sha256: string) => ({ path, sha256 })
const places = new Map([
  ['Old/reed.png', { theirs: ['f'], claims: [claim('A', 'r')] }],
  ['Old/reed.tune', { theirs: [], claims: [claim('A', 't'), claim('B', 't')] }],
  ['Old/rush.png', { theirs: [], claims: [claim('A', 'x'), claim('B', 'y')] }],
])

it('follows what was moved by its content, each file once, and takes settings as they are mended', () => {
  const folder = [
    file('New/other.png', 'r'),
    file('New/reed.png', 'r'),
    file('New/reed.tune', 't'),
    file('Old/rush.png', 'z'),
  ]
  const follows = followFiles(places, folder, new Map([['New/reed.tune', file('New/reed.tune', 'mended')]]))
  expect(Object.fromEntries(followPlaces(follows))).toEqual({
    'Old/reed.png': undefined,
    'New/reed.png': { theirs: ['f'], claims: [claim('A', 'r')] },
    'Old/reed.tune': undefined,
    // both had put the very same there
    'New/reed.tune': { theirs: [], claims: [claim('A', 'mended'), claim('B', 'mended')] },
  })
})

it('leaves what lies where it was put, and what somebody has changed', () => {
  const folder = [file('Old/reed.png', 'r'), file('Old/reed.tune', 'changed')]
  expect(followFiles(places, folder, new Map())).toEqual([])
})

it('two places that change their paths are both remembered', () => {
  const follows = [
    { path: 'a/x', place: { theirs: [], claims: [claim('A', '1')] }, to: file('b/x', '1') },
    { path: 'b/x', place: { theirs: [], claims: [claim('A', '2')] }, to: file('a/x', '2') },
  ]
  expect(Object.fromEntries(followPlaces(follows))).toEqual({
    'a/x': { theirs: [], claims: [claim('A', '2')] },
    'b/x': { theirs: [], claims: [claim('A', '1')] },
  })
})
