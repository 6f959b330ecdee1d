// What a link's page asks the server, with no more of the contract than its types.
import type { LinkedFolder, OpenedLink, Problem } from '../../core/contract'

/** The server refuses, and says why; without a problem it does not answer. */
export class Refused extends Error {
  constructor(readonly problem: Problem | null) {
    super(problem?.title ?? 'no answer')
  }
}

async function asked(path: string, init?: RequestInit): Promise<Response> {
  let answer: Response
  try {
    answer = await fetch(path, init)
  } catch {
    throw new Refused(null)
  }
  if (answer.ok) return answer
  const problem = await answer.json().catch(() => null)
  throw new Refused(answer.status >= 502 && answer.status <= 504 ? null : problem)
}

/** @throws Refused */
export const openLink = async (token: string, password?: string): Promise<OpenedLink> =>
  (
    await asked('/api/linked', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ token, ...(password && { password }) }),
    })
  ).json()

/** Signs in as a guest, by the name that they give. @throws Refused */
export const comeToWrite = async (linkId: string, name: string): Promise<void> => {
  await asked(`/api/linked/${linkId}/guest`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ name }),
  })
}

/** @throws Refused */
export const folder = async (linkId: string, folderId: string): Promise<LinkedFolder> =>
  (await asked(`/api/linked/${linkId}/folders/${folderId}`)).json()

/** A file as it is shown: a page, a picture, or nothing where it is not. */
export type Shown = { page: string; cut: string[] } | { picture: Blob } | null

/** @throws Refused */
export async function shown(linkId: string, fileId: string): Promise<Shown> {
  const answer = await asked(`/api/linked/${linkId}/files/${fileId}/page`)
  if (answer.status === 204) return null
  if (!/html/.test(answer.headers.get('content-type') ?? '')) return { picture: await answer.blob() }
  return {
    page: await answer.text(),
    cut: JSON.parse(decodeURIComponent(answer.headers.get('jaula-cut') ?? '%5B%5D')),
  }
}

export const bytesAt = (linkId: string, fileId: string) => `/api/linked/${linkId}/files/${fileId}/bytes`
