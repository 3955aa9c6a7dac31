import type pg from 'pg'

/** A word of this length has no part that an index of three letters knows: it finds words that begin with it. */
const SHORT_MAX_CHARS = 2
/** Scripts that set no spaces between words: there a short one is looked for anywhere. */
const UNSPACED = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}\p{Script=Thai}]/u
/** Words of the library that one typed word may stand for; where there are more it is common. */
const WORDS_MAX = 64
/** So many typed words are looked up; what is typed beyond them is looked for in what these find. */
const TERMS_MAX = 4
/** Up to so many brushes are looked at one by one, in any order. */
const FEW_BRUSHES = 1000

/** A typed word, in lower case and ready for LIKE; found anywhere in a word, or only where one begins with it. */
export type SearchTerm = { text: string; isBeginning: boolean }

/** What is typed into the search box, word by word. */
export const toTerms = (q: string): SearchTerm[] =>
  q
    .toLowerCase()
    .split(/\s+/)
    .filter(Boolean)
    .map((word) => ({
      text: word.replace(/[\\%_]/g, '\\$&'),
      isBeginning: word.length <= SHORT_MAX_CHARS && !UNSPACED.test(word),
    }))

/** The words of the library that a typed word stands for, whether few brushes have them, and the other typed words. */
export type Rarest = { words: string[]; isFew: boolean; others: SearchTerm[] }

/**
 * Which of the typed words tells most, so that a search begins with its brushes.
 * @returns 'none' where one of them is in no word of the library, undefined where each stands for very many.
 */
export async function findRarest(
  pool: pg.Pool,
  workspaceId: string,
  terms: readonly SearchTerm[],
): Promise<Rarest | 'none' | undefined> {
  const asked = terms.slice(0, TERMS_MAX)
  const patterns = asked.map(({ text, isBeginning }) => `${isBeginning ? '' : '%'}${text}%`)
  const each = asked.map(
    (_, n) =>
      `(select ${n} as term, word from library_word where workspace_id = $1 and word like $${n + 2} limit ${WORDS_MAX + 1})`,
  )
  const text = `select term, words, (
      select count(*)::int from (
        select 1 from brush_word where workspace_id = $1 and word = any(words) limit ${FEW_BRUSHES + 1}
      ) first where cardinality(words) <= ${WORDS_MAX}
    ) as brushes
    from (select term, array_agg(word) as words from (${each.join(' union all ')}) found group by term) terms`
  const { rows } = await pool.query<{ term: number; words: string[]; brushes: number }>({
    text,
    values: [workspaceId, ...patterns],
  })
  if (rows.length < asked.length) return 'none'
  const telling = rows.filter(({ words }) => words.length <= WORDS_MAX)
  const few = telling.filter(({ brushes }) => brushes <= FEW_BRUSHES).sort((a, b) => a.brushes - b.brushes)
  const rarest = few[0] ?? (telling.length > 1 ? await findRarestOfMany(pool, workspaceId, telling) : telling[0])
  if (!rarest) return undefined
  const others = terms.filter((_, n) => n !== rarest.term)
  return { words: rarest.words, isFew: rarest.brushes <= FEW_BRUSHES, others }
}

/** Of common words the one that the planner believes fewest brushes to have: counting so many would take as long as the search. */
async function findRarestOfMany<Row extends { words: string[] }>(
  pool: pg.Pool,
  workspaceId: string,
  rows: readonly Row[],
): Promise<Row | undefined> {
  const believed = await Promise.all(
    rows.map(async (row) => {
      const plan = await pool.query<{ 'QUERY PLAN': [{ Plan: { 'Plan Rows': number } }] }>(
        'explain (format json) select 1 from brush_word where workspace_id = $1 and word = any($2)',
        [workspaceId, row.words],
      )
      return { row, brushes: plan.rows[0]?.['QUERY PLAN'][0].Plan['Plan Rows'] ?? 0 }
    }),
  )
  return believed.sort((a, b) => a.brushes - b.brushes)[0]?.row
}
