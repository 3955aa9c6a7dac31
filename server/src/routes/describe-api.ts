import { TOKEN_PREFIX } from '@satchel/core/members/tokens'
import { type JsonSchema, toJsonSchema } from '@valibot/to-json-schema'
import type { GenericSchema } from 'valibot'
import { OPERATIONS, type Operation, TAGS } from './operations.ts'
import { type CheckedPart, partOf } from './validate.ts'

/** A route as the framework lists it: a handler an entry, in their order. */
type Listed = { method: string; path: string; handler: object }
type Parameter = { name: string; in: 'path' | 'query'; required: boolean; schema: JsonSchema }

/** A schema as a program may know it. What a check says in code has no word there, and is left out. */
function schemaOf(schema: GenericSchema, typeMode: 'input' | 'output'): JsonSchema {
  const { $schema: _, ...rest } = toJsonSchema(schema, { typeMode, errorMode: 'ignore', target: 'draft-2020-12' })
  return rest
}

/** The parts of an address: what of an object's schema has a name. */
function parametersOf({ target, schema }: CheckedPart): Parameter[] {
  const place = target === 'param' ? 'path' : 'query'
  const { properties = {}, required = [] } = schemaOf(schema, 'input')
  return Object.entries(properties).map(([name, of]) => ({
    name,
    in: place,
    required: place === 'path' || required.includes(name),
    schema: of as JsonSchema,
  }))
}

const PROBLEM = {
  type: 'object',
  required: ['status', 'title'],
  properties: {
    status: { type: 'integer' },
    title: { type: 'string', description: 'What happened, to what, and what to do, in one sentence.' },
  },
}
/** With which status a request may be refused; the sentence says why. */
const REFUSALS = [400, 401, 403, 404, 409, 413, 422, 429] as const
const REFUSED = {
  description: 'Refused, with a sentence that says why; nothing was changed.',
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
}

function describeOperation({ name, tag, summary, answer, takesFile }: Operation, parts: readonly CheckedPart[]) {
  const body = parts.find(({ target }) => target === 'json')
  const content = body
    ? { 'application/json': { schema: schemaOf(body.schema, 'input') } }
    : takesFile
      ? { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } }
      : undefined
  return {
    operationId: name,
    tags: [tag],
    summary,
    parameters: parts.filter(({ target }) => target === 'param' || target === 'query').flatMap(parametersOf),
    ...(content ? { requestBody: { required: true, content } } : {}),
    responses: {
      [answer.status]: {
        description: 'Done.',
        content: { 'application/json': { schema: schemaOf(answer.schema, 'output') } },
      },
      ...Object.fromEntries(REFUSALS.map((status) => [status, { $ref: '#/components/responses/Refused' }])),
    },
  }
}

/**
 * What programs may ask of the server, as OpenAPI 3.1: of the routes in `operations.ts`, with the schemas that each route itself
 * holds its requests to. @param routes All routes of the server, as the framework lists them.
 */
export function describeApi(routes: readonly Listed[], origin: string) {
  const paths: Record<string, Record<string, object>> = {}
  for (const [key, operation] of Object.entries(OPERATIONS)) {
    const [method = '', path = ''] = key.split(' ')
    const parts = routes
      .filter((route) => route.method === method && route.path === path)
      .flatMap(({ handler }) => partOf(handler) ?? [])
    const address = path.replaceAll(/:(\w+)/g, '{$1}')
    paths[address] = { ...paths[address], [method.toLowerCase()]: describeOperation(operation, parts) }
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Gentle Satchel',
      version: '1',
      description: 'What programs may ask of a workspace, in the name of who made their token.',
    },
    servers: [{ url: origin }],
    security: [{ token: [] }],
    tags: Object.entries(TAGS).map(([name, description]) => ({ name, description })),
    paths,
    components: {
      schemas: { Problem: PROBLEM },
      responses: { Refused: REFUSED },
      securitySchemes: {
        token: {
          type: 'http',
          scheme: 'bearer',
          description: `A token of the workspace, made on the page of members; it begins with ${TOKEN_PREFIX}.`,
        },
      },
    },
  }
}
