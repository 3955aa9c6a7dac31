/** What somebody can be asked about the app they paint in, and how that is answered of one that is described. */
export const APP_QUESTIONS = {
  ending: 'How do the names of its brush files end?',
  colours: 'Can one of its brushes have colours of its own?',
  grain: 'Can a brush be painted through a grain, as if on paper?',
  pictures: 'Can a brush change its picture while it paints?',
  settings: 'Does a second file lie beside each brush, with its settings?',
} as const
export type AppQuestion = keyof typeof APP_QUESTIONS
export const APP_QUESTION_NAMES = Object.keys(APP_QUESTIONS) as AppQuestion[]

/** How an app answers each question. */
export type AppTraits = Readonly<Record<AppQuestion, string>>
/** What somebody answered so far; null where they do not know. */
export type AppAnswers = Partial<Record<AppQuestion, string | null>>

/** Nobody is asked more than that. */
const QUESTIONS_MOST = 3

/** The apps that no answer speaks against. */
export const appsLeft = <App extends { traits: AppTraits }>(apps: readonly App[], answers: AppAnswers): App[] =>
  apps.filter(({ traits }) =>
    Object.entries(answers).every(([name, answer]) => answer === null || traits[name as AppQuestion] === answer),
  )

/**
 * What to ask next: the question whose answers leave the fewest apps on average, of those not asked yet.
 * @returns The question with the answers that are possible, or nothing where no answer tells the apps apart any more, or three
 * were asked.
 */
export function nextQuestion(
  apps: readonly { traits: AppTraits }[],
  answers: AppAnswers,
): { name: AppQuestion; choices: string[] } | undefined {
  if (Object.keys(answers).length >= QUESTIONS_MOST) return undefined
  const left = appsLeft(apps, answers)
  let best: { name: AppQuestion; choices: string[]; remain: number } | undefined
  for (const name of APP_QUESTION_NAMES) {
    if (name in answers) continue
    const counts = new Map<string, number>()
    for (const { traits } of left) counts.set(traits[name], (counts.get(traits[name]) ?? 0) + 1)
    // the number that is left after an answer, weighed by how many apps give it
    const remain = [...counts.values()].reduce((sum, n) => sum + n * n, 0) / left.length
    if (counts.size > 1 && (!best || remain < best.remain)) best = { name, choices: [...counts.keys()].sort(), remain }
  }
  return best && { name: best.name, choices: best.choices }
}
