import { expect, it } from 'vitest'
import { createLog } from './log.ts'

it('says where and why something failed, and no value that it was about', () => {
  const lines: string[] = []
  const log = createLog('info', { write: (line: string) => void lines.push(line) })
  const cause = Object.assign(new Error('connect ECONNREFUSED'), { code: 'ECONNREFUSED', query: 'select' })
  const failed = new Error(
    'Failed query: select "id" from "session" where "token" = $1\nparams: s3cret,ida@marsh.example',
    {
      cause,
    },
  )
  Object.assign(failed, { params: ['s3cret'] })
  log.error({ err: failed, path: '/api/h/s3cret/download/s3cret?part=1', method: 'GET' }, 'request failed')
  const said = lines.join('')
  expect(said).not.toMatch(/s3cret|ida@/)
  expect(JSON.parse(said)).toMatchObject({
    path: '/api/h/[hidden]/download/[hidden]?part=1',
    method: 'GET',
    msg: 'request failed',
    err: { message: expect.stringContaining('from "session"'), cause: { code: 'ECONNREFUSED' } },
  })
  expect(JSON.parse(said).err.stack).toContain('log.test.ts')
})

it('hides the link of a phone too', () => {
  const lines: string[] = []
  const log = createLog('info', { write: (line: string) => void lines.push(line) })
  log.error({ path: '/api/p/s3cret/photographs', err: new Error('at /p/s3cret') }, 'request failed')
  expect(lines.join('')).not.toContain('s3cret')
})
