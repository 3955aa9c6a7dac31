import type { ClientAddress } from './client-address.ts'
import type { Deps } from './deps.ts'
import type { FitMeasurer } from './fit/measurer.ts'
import type { Auth } from './people/auth.ts'
import type { AccessLimits } from './people/limits.ts'
import type { JobQueue } from './queue/queue.ts'

/** What the routes need besides. */
export type AppDeps = Deps & {
  jobs: JobQueue
  fit: FitMeasurer
  auth: Auth
  /** Aborted once the server takes nothing new. */
  stopping: AbortSignal
  clientAddress: ClientAddress
  limits: AccessLimits
  /** Gives a new workspace what comes with the product. */
  welcome: (workspaceId: string) => Promise<void>
  /** In whose name mails go out, and where a stand-in shows what arrived; absent where none are sent. */
  mailing: { from: string; mailbox?: string } | undefined
  /** The page of the stand-in shop, where it runs. */
  shopPage?: string | undefined
  /** The addresses of exchanges that are reached from here. */
  exchanges: readonly string[]
  /** What the files of one workspace may take up together, bytes. */
  workspaceBytesMax: number
  /** The names, with ports, by which the server is asked; others are refused. */
  hosts: ReadonlySet<string>
  /** The page's own address, for the origin check and for links. */
  origin: string
  /** The folder of the built page; absent where only the API is wanted. */
  webFolder?: string
}
