import { z } from 'zod'
import { api, type Endpoint, Problem } from '../core/contract'

const asJson = (schema: z.ZodType, io: 'input' | 'output') => {
  const { $schema: _, ...rest } = z.toJSONSchema(schema, { io, unrepresentable: 'any' })
  return rest
}
const bytes = { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } }

/** The OpenAPI 3.1 description, made from the contract. */
export function openapi(version: string): object {
  const paths: Record<string, Record<string, object>> = {}
  for (const [name, endpoint] of Object.entries(api) as [string, Endpoint][]) {
    const path = endpoint.path.replace(/:(\w+)/g, '{$1}')
    const inPath = [...endpoint.path.matchAll(/:(\w+)/g)].map((match) => ({
      name: match[1],
      in: 'path',
      required: true,
      schema: { type: 'string', format: 'uuid' },
    }))
    const inQuery = Object.entries(endpoint.query?.shape ?? {}).map(([key, schema]) => ({
      name: key,
      in: 'query',
      required: !(schema as z.ZodType).safeParse(undefined).success,
      schema: asJson(schema as z.ZodType, 'input'),
    }))
    const content = (what: Endpoint['body'] | Endpoint['answer'], io: 'input' | 'output') =>
      what === 'bytes'
        ? bytes
        : what === 'events'
          ? { 'text/event-stream': { schema: { type: 'string' } } }
          : { 'application/json': { schema: asJson(what as z.ZodType, io) } }
    paths[path] ??= {}
    paths[path][endpoint.method.toLowerCase()] = {
      operationId: name,
      summary: endpoint.summary,
      parameters: [...inPath, ...inQuery],
      ...(endpoint.body && { requestBody: { required: true, content: content(endpoint.body, 'input') } }),
      responses: {
        ...(endpoint.answer
          ? { 200: { description: 'Done', content: content(endpoint.answer, 'output') } }
          : { 204: { description: 'Done' } }),
        default: {
          description: 'Refused',
          content: { 'application/problem+json': { schema: asJson(Problem, 'output') } },
        },
      },
      'x-right': endpoint.right,
      ...(endpoint.right !== 'anybody' && { security: [{ session: [] }] }),
    }
  }
  return {
    openapi: '3.1.0',
    info: { title: 'Jaula', version },
    components: { securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'jaula_session' } } },
    paths,
  }
}
