// What is asked about links: by those who make them, and by whoever comes with one.
import { z } from 'zod'
import type { Endpoint } from './endpoint'
import { ComeToWrite, Link, LinkedFolder, LinkUse, MadeLink, NewLink, OpenedLink, OpenLink } from './links'
import { Session } from './people'

export const linkEndpoints = {
  links: {
    method: 'GET',
    path: '/api/access/:id/links',
    right: 'manage',
    summary: 'The links that lead to a folder or file, or to what it lies in',
    answer: z.array(Link),
  },
  newLink: {
    method: 'POST',
    path: '/api/access/:id/links',
    right: 'manage',
    summary: 'Make a link to a folder or file, for whoever has its address',
    body: NewLink,
    answer: MadeLink,
  },
  endLink: {
    method: 'DELETE',
    path: '/api/links/:linkId',
    right: 'manage',
    summary: 'End a link: it opens nothing any more, and whoever came by it can do nothing',
  },
  linkUses: {
    method: 'GET',
    path: '/api/links/:linkId/uses',
    right: 'manage',
    summary: 'What was done with a link, the latest first',
    answer: z.array(LinkUse),
  },
  openLink: {
    method: 'POST',
    path: '/api/linked',
    right: 'anybody',
    summary: 'Open a link with its secret',
    body: OpenLink,
    answer: OpenedLink,
  },
  comeToWrite: {
    method: 'POST',
    path: '/api/linked/:linkId/guest',
    right: 'by link',
    summary: 'Be a guest who writes, by a link that is for editing',
    body: ComeToWrite,
    answer: Session,
  },
  linkedFolder: {
    method: 'GET',
    path: '/api/linked/:linkId/folders/:folderId',
    right: 'by link',
    summary: 'What lies in a folder, to whoever came by a link',
    answer: LinkedFolder,
  },
  linkedPage: {
    method: 'GET',
    path: '/api/linked/:linkId/files/:fileId/page',
    right: 'by link',
    summary: 'A file as a page to look at, or as the picture that it is; nothing where it cannot be shown',
    answer: 'bytes',
  },
  linkedBytes: {
    method: 'GET',
    path: '/api/linked/:linkId/files/:fileId/bytes',
    right: 'by link',
    summary: "A file's exact bytes, to whoever came by a link",
    answer: 'bytes',
  },
} as const satisfies Record<string, Endpoint>
