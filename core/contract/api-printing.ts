// What is asked about printers and what is printed.
import { z } from 'zod'
import type { Endpoint } from './endpoint'
import { KeptLikes, NewPrinter, NewPrintJob, Printed, Printer, PrintJob } from './printing'

export const printingEndpoints = {
  printers: {
    method: 'GET',
    path: '/api/printers',
    right: 'signed in',
    summary: 'The printers of the office, and what each says of itself now',
    answer: z.array(Printer),
  },
  addPrinter: {
    method: 'POST',
    path: '/api/printers',
    right: 'administrator',
    summary: 'Name a printer, which has to answer',
    body: NewPrinter,
    answer: Printer,
  },
  removePrinter: {
    method: 'DELETE',
    path: '/api/printers/:printerId',
    right: 'administrator',
    summary: 'A printer is there no more',
  },
  print: {
    method: 'POST',
    path: '/api/printing',
    right: 'signed in',
    summary: 'Print a PDF, of a file that one may see or of what has not been saved',
    body: NewPrintJob,
    largest: 170_000_000,
    answer: PrintJob,
  },
  printJobs: {
    method: 'GET',
    path: '/api/printing',
    right: 'signed in',
    summary: 'What I print, and printed lately',
    answer: z.array(PrintJob),
  },
  cancelPrint: {
    method: 'DELETE',
    path: '/api/printing/:jobId',
    right: 'own',
    summary: 'Cancel what is printed',
  },
  printAgain: {
    method: 'POST',
    path: '/api/printing/:jobId/again',
    right: 'own',
    summary: 'Print the same again',
    answer: PrintJob,
  },
  printBacks: {
    method: 'POST',
    path: '/api/printing/:jobId/backs',
    right: 'own',
    summary: 'The stack was put back: print its backs',
    answer: PrintJob,
  },
  printed: {
    method: 'GET',
    path: '/api/files/:fileId/printed',
    right: 'view',
    summary: 'What was printed of a file: by whom, which version, how many pages',
    answer: z.array(Printed),
  },
  paperLikes: {
    method: 'GET',
    path: '/api/paper/likes',
    right: 'signed in',
    summary: 'How I like pages: as it was last, on each printer, and under names',
    answer: z.array(KeptLikes),
  },
  keepPaperLikes: {
    method: 'PUT',
    path: '/api/paper/likes',
    right: 'signed in',
    summary: 'Keep how I like pages',
    body: KeptLikes,
  },
  forgetPaperLikes: {
    method: 'DELETE',
    path: '/api/paper/likes',
    right: 'signed in',
    summary: 'Keep it no more',
    query: z.object({ about: z.string().max(120) }),
  },
} as const satisfies Record<string, Endpoint>
