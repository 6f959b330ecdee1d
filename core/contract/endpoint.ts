import type { z } from 'zod'

/** What is asked of the server in one way, and what it answers. */
export interface Endpoint {
  method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** With `:name` for the parameters, which are all UUIDs. */
  path: string
  summary: string
  query?: z.ZodObject
  /** A schema for JSON, `bytes` for a file's exact bytes. */
  body?: z.ZodType | 'bytes'
  /** How large a JSON body may be, as it is after unpacking; bytes. 64 KB where it says nothing. */
  largest?: number
  /** The body may come packed with gzip. */
  packed?: boolean
  /** A schema for JSON, `bytes` for a file's exact bytes, `events` for a stream, absent for nothing. */
  answer?: z.ZodType | 'bytes' | 'events'
  /**
   * Who may ask. Of a share: its members from this role on, and to others it is not there. `own`: whose it is, and,
   * where the subject says so, the managers of its share. `by link`: whoever opened the link in their browser. A refusal
   * comes before anything else is looked at.
   */
  right: 'anybody' | 'by link' | 'signed in' | 'view' | 'edit' | 'manage' | 'own' | 'administrator'
}
