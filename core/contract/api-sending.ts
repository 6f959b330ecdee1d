// What is asked about mail: sending a file, its versions or a link, and what became of it.
import { z } from 'zod'
import type { Endpoint } from './endpoint'
import { AsType, MailNow, SendFile, SendLink, Sent, Undelivered } from './sending'

export const sendingEndpoints = {
  asType: {
    method: 'GET',
    path: '/api/versions/:versionId/as',
    right: 'view',
    summary: 'What a version is as another type: its name, its size and what is not in it',
    query: z.object({ type: z.string().max(200) }),
    answer: AsType,
  },
  sendFile: {
    method: 'POST',
    path: '/api/files/:fileId/sent',
    right: 'view',
    summary: 'Send versions of a file by mail, as they are or as another type',
    body: SendFile,
    answer: Sent,
  },
  sendLink: {
    method: 'POST',
    path: '/api/access/:id/links/sent',
    right: 'manage',
    summary: 'Make a link to a folder or file for each of some people, and send it to them by mail',
    body: SendLink,
    answer: Sent,
  },
  sent: {
    method: 'GET',
    path: '/api/entries/:entryId/sent',
    right: 'view',
    summary: 'What was sent of a folder or file: when, to whom, which versions, and what became of it',
    answer: z.array(Sent),
  },
  tryMailAgain: {
    method: 'POST',
    path: '/api/mail/:mailId/again',
    right: 'own',
    summary: 'Try a message of one’s own that waits again now',
  },
  withdrawMail: {
    method: 'DELETE',
    path: '/api/mail/:mailId',
    right: 'own',
    summary: 'Withdraw a message of one’s own that was not sent yet',
  },
  undelivered: {
    method: 'GET',
    path: '/api/undelivered',
    right: 'signed in',
    summary: 'Messages of one’s own that did not reach somebody, and were not seen to',
    answer: z.array(Undelivered),
  },
  seeUndelivered: {
    method: 'POST',
    path: '/api/mail/:mailId/seen',
    right: 'own',
    summary: 'A message of one’s own that did not reach somebody was seen to',
  },
  mailNow: {
    method: 'GET',
    path: '/api/mail',
    right: 'administrator',
    summary: 'How mail goes out, and what is wrong with it',
    answer: MailNow,
  },
} as const satisfies Record<string, Endpoint>
