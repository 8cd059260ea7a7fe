/** The generated client, with the token that changes carry, and problems as exceptions. */
import createClient, { type Middleware } from 'openapi-fetch'
import { ref } from 'vue'
import type { components, paths } from './schema.generated'

export type Schemas = components['schemas']
export type Trial = Schemas['TrialView']
export type Method = Schemas['MethodView']
export type Mark = Schemas['MarkView']

export interface FieldProblem {
  field: string
  message: string
  todo: string
}

/** A problem document from the server, or the network being away (status 0). */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly errors: FieldProblem[],
  ) {
    super(detail || title)
  }
}

let csrf = ''
export function setCsrf(token: string): void {
  csrf = token
}

async function problemOf(response: Response): Promise<ApiProblem> {
  try {
    const body = await response.json()
    return new ApiProblem(response.status, body.title ?? '', body.detail ?? '', body.errors ?? [])
  } catch {
    return new ApiProblem(
      response.status,
      'No answer',
      'The server did not answer as expected. Try again.',
      [],
    )
  }
}

/** How many entries of a list the server could not show, since what is stored does not fit. */
export const leftOut = ref(0)

/** Raised by everything that went through and is not a tap at the bench: something may be put back now. */
export const changed = ref(0)
const TAPPED = /\/(entries|session|presence|plan|looked-at)(\/|$)/

const carry: Middleware = {
  async onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRFToken', csrf)
    return request
  },
  async onResponse({ request, response }) {
    if (!response.ok) throw await problemOf(response)
    if (request.method !== 'GET' && !TAPPED.test(new URL(request.url).pathname)) changed.value++
    leftOut.value = Number(response.headers.get('Left-Out')) || leftOut.value
    return response
  },
  onError() {
    return new ApiProblem(0, 'No network', 'The kitchen’s server can’t be reached right now.', [])
  },
}

export const api = createClient<paths>({ baseUrl: '/', credentials: 'same-origin' })
api.use(carry)

/** A request whose body is a file. */
export async function sendFile(
  method: 'POST' | 'PUT',
  path: string,
  body: Blob | string,
  headers: Record<string, string> = {},
): Promise<unknown> {
  let response: Response
  try {
    response = await fetch(path, {
      method,
      body,
      headers: { 'X-CSRFToken': csrf, 'Content-Type': 'application/octet-stream', ...headers },
    })
  } catch {
    throw new ApiProblem(0, 'No network', 'The kitchen’s server can’t be reached right now.', [])
  }
  if (!response.ok) throw await problemOf(response)
  return response.status === 204 ? null : response.json()
}

/** What to show of anything thrown. */
export function words(error: unknown): string {
  if (error instanceof ApiProblem) {
    if (error.errors.length)
      return error.errors.map((e) => `${plainField(e.field)}: ${e.message}. ${e.todo}`.trim()).join(' ')
    return error.detail || error.title
  }
  return error instanceof Error ? error.message : String(error)
}

function plainField(field: string): string {
  return field
    .replace(/^body\./, '')
    .replace(/items\.(\d+)/, (_, n) => `row ${Number(n) + 1}`)
    .replace(/\./g, ', ')
    .replace(/_(s|c|kg|w|k)\b/g, '')
    .replace(/_/g, ' ')
}

export const ifMatch = (version: number) => ({ 'If-Match': `"${version}"` })
