import * as v from 'valibot'
import { GIVEN_ROLES } from '../members/roles.ts'
import { TOKEN_DAYS, TOKEN_SCOPE_NAMES } from '../members/tokens.ts'
import { Email, Password } from './account.ts'
import { Line, Name } from './names.ts'

/** After how many days an invitation ends that nobody has taken. */
export const INVITATION_DAYS = { least: 1, most: 30, usual: 7 } as const

/** How long something lasts. */
const Days = ({ least, most }: { least: number; most: number }) =>
  v.pipe(
    v.number('a number of days is needed'),
    v.integer('whole days are needed'),
    v.minValue(least, `it lasts ${least} day at least`),
    v.maxValue(most, `it lasts ${most} days at most`),
  )

export const Invite = v.object({
  role: v.picklist(GIVEN_ROLES),
  /** Whom it is for, for those who read the list. */
  note: Line,
  days: Days(INVITATION_DAYS),
})
export type Invite = v.InferOutput<typeof Invite>

export const NewToken = v.object({
  /** What it is for, so that one knows later which one to end. */
  name: Name,
  scope: v.picklist(TOKEN_SCOPE_NAMES),
  days: Days(TOKEN_DAYS),
})
export type NewToken = v.InferOutput<typeof NewToken>

export const GivenRole = v.object({ role: v.picklist(GIVEN_ROLES) })

/** The account of who was invited and has none. */
export const Newcomer = v.object({ name: Name, email: Email, password: Password })
export type Newcomer = v.InferOutput<typeof Newcomer>

export const NewWorkspace = v.object({ name: Name })
