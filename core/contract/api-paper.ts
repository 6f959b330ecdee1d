// What is asked about paper.
import type { Endpoint } from './endpoint'
import { AskBreaks, OnPaper, PageBreaks } from './paper'

export const paperEndpoints = {
  onPaper: {
    method: 'POST',
    path: '/api/paper',
    right: 'signed in',
    summary: 'A document on pages, as a PDF; in the header jaula-paper how many, and what could not be as it is',
    body: OnPaper,
    largest: 64_000_000,
    packed: true,
    answer: 'bytes',
  },
  pageBreaks: {
    method: 'POST',
    path: '/api/paper/breaks',
    right: 'signed in',
    summary: 'How many pages a document has, and where in it each begins',
    body: AskBreaks,
    largest: 64_000_000,
    packed: true,
    answer: PageBreaks,
  },
} as const satisfies Record<string, Endpoint>
