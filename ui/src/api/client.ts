import createClient, { type Middleware } from 'openapi-fetch'
import type { components, paths } from './schema'

/** All that the API describes, by name. */
export type Schemas = components['schemas']
export type Refusal = Schemas['Refusal']

/** A refusal of the server, with what it says about fields, places in a rule, and other people's changes. */
export class ApiError extends Error {
  readonly status: number
  readonly refusal: Partial<Refusal>

  constructor(status: number, refusal: Partial<Refusal>) {
    super(refusal.error ?? 'Yenvo did not answer in a way this page understands. Load the page again.')
    this.status = status
    this.refusal = refusal
  }
}

/** The server could not be reached at all. */
export class Unreachable extends Error {
  constructor() {
    super('Yenvo cannot be reached just now. Nothing was lost; try again in a moment.')
  }
}

let token = ''
let onSignedOut = () => {}
let onUncertain = () => {}

/** Called when it is not known whether a call was carried out: pages then have to look again. */
export function whenUncertain(handler: () => void) {
  onUncertain = handler
}

/** Called when a call is refused because nobody is signed in any more. */
export function whenSignedOut(handler: () => void) {
  onSignedOut = handler
}

/** Fetches who is signed in, and the token that changing calls must carry. */
export async function fetchSession(): Promise<Schemas['Session']> {
  // A session that has ended is refused once, and with that forgotten.
  const first = await api.GET('/api/session').catch(() => null)
  const session = first?.response.ok && first.data ? first.data : await answerOf(api.GET('/api/session'))
  token = session.csrf
  return session
}

const carryToken: Middleware = {
  onRequest({ request }) {
    if (request.method !== 'GET') request.headers.set('X-CSRF-Token', token)
    return request
  },
}

// A session that was begun anew in another window has another token: fetch it and send the same call once more.
async function send(request: Request): Promise<Response> {
  const again = request.method === 'GET' ? null : request.clone()
  const response = await fetch(request)
  if (response.status !== 403 || !again) return response
  const refusal = (await response.clone().json()) as Partial<Refusal>
  if (refusal.code !== 'token') return response
  await fetchSession()
  again.headers.set('X-CSRF-Token', token)
  return fetch(again)
}

export const api = createClient<paths>({ baseUrl: '', fetch: send })
api.use(carryToken)

/**
 * Waits for a call and gives its data.
 * @throws ApiError when the server refuses, Unreachable when there is no answer
 */
export async function answerOf<T>(call: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  let answer
  try {
    answer = await call
  } catch {
    throw new Unreachable()
  }
  if (answer.data !== undefined && answer.response.ok) return answer.data
  if (answer.response.status === 401 && !answer.response.url.endsWith('/api/sign-in')) onSignedOut()
  const refusal = typeof answer.error === 'object' && answer.error ? (answer.error as Partial<Refusal>) : {}
  if (refusal.code === 'maybe_saved') onUncertain()
  throw new ApiError(answer.response.status, refusal)
}

/** The sentence to show for whatever went wrong. */
export function sentenceOf(error: unknown): string {
  return error instanceof Error ? error.message : String(error)
}
