import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { traitsOf, usualReasons } from './app-traits.ts'
import { BUILT_IN } from './built-in.ts'
import { STAND_INS } from './destination.ts'
import { APP_QUESTION_NAMES, type AppAnswers, type AppTraits, appsLeft, nextQuestion } from './which-app.ts'

const traits = fc.record(
  Object.fromEntries(APP_QUESTION_NAMES.map((name) => [name, fc.constantFrom('yes', 'no', '.gbr', '.png')])),
) as fc.Arbitrary<AppTraits>
const someApps = fc.array(traits, { minLength: 1, maxLength: 12 }).map((all) => all.map((its) => ({ traits: its })))

/** Asked until nothing is left to ask. @param answer What is said to a question; null where it is not known. */
function ask(apps: readonly { traits: AppTraits }[], answer: (name: keyof AppTraits) => string | null) {
  let answers: AppAnswers = {}
  for (let next = nextQuestion(apps, answers); next; next = nextQuestion(apps, answers))
    answers = { ...answers, [next.name]: answer(next.name) }
  return answers
}

describe('which app it is', () => {
  it('three questions at most; who answers truly is never led away from their app', () => {
    fc.assert(
      fc.property(someApps, fc.nat(), (apps, at) => {
        const own = apps[at % apps.length] ?? apps[0]
        if (!own) return
        const answers = ask(apps, (name) => own.traits[name])
        expect(Object.keys(answers).length).toBeLessThanOrEqual(3)
        expect(appsLeft(apps, answers)).toContain(own)
      }),
    )
  })

  it('what is not known rules nothing out, and is not asked again', () => {
    fc.assert(
      fc.property(someApps, (apps) => {
        const answers = ask(apps, () => null)
        expect(appsLeft(apps, answers)).toEqual(apps)
      }),
    )
  })

  it('a question whose answer tells nothing apart is not asked', () => {
    const same = traitsOf(BUILT_IN.dunlin)
    expect(nextQuestion([{ traits: same }, { traits: same }], {})).toBeUndefined()
    const other = { ...same, grain: same.grain === 'yes' ? 'no' : 'yes' }
    expect(nextQuestion([{ traits: same }, { traits: other }], {})).toEqual({ name: 'grain', choices: ['no', 'yes'] })
  })

  it('tells the apps that come with the product apart', () => {
    const apps = STAND_INS.map((name) => ({ name, traits: traitsOf(BUILT_IN[name]) }))
    for (const own of apps)
      expect(
        appsLeft(
          apps,
          ask(apps, (name) => own.traits[name]),
        ),
      ).toEqual([own])
  })
})

describe('the usual reasons', () => {
  it('are said of what an app has: grains beside, a file of settings, its version, its last steps', () => {
    const { dunlin } = BUILT_IN
    const bare = {
      ...dunlin,
      grain: 'none' as const,
      appVersion: 'any',
      files: { ...dunlin.files, settings: undefined },
    }
    const said = usualReasons(bare).join(' ')
    expect(said).not.toMatch(/grain|settings|older one/)
    const full = { ...bare, grain: 'beside' as const, appVersion: '3', files: { ...dunlin.files, settings: 'set' } }
    const more = usualReasons(full).join(' ')
    expect(more).toContain('without its grain')
    expect(more).toContain('(.set)')
    expect(more).toContain(`${dunlin.name} 3`)
    for (const step of dunlin.afterCopying) expect(more).toContain(step)
  })
})
