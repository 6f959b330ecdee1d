// Drives that are taken over into a share.
import { z } from 'zod'
import type { Endpoint } from './endpoint'
import {
  Decisions,
  DriveFiles,
  Intake,
  Intakes,
  NewIntake,
  SeriesPage,
  ServerFolders,
  StillUnread,
  shownSeries,
} from './intake'

export const intakeEndpoints = {
  intakes: {
    method: 'GET',
    path: '/api/shares/:shareId/intakes',
    right: 'manage',
    summary: 'Drives that are taken over into a share, and folders of the server that may be',
    answer: Intakes,
  },
  serverFolders: {
    method: 'GET',
    path: '/api/shares/:shareId/intakes/folders',
    right: 'manage',
    summary: 'The folders in a folder of the server that may be taken over',
    query: z.object({ path: z.string().min(1).max(4000) }),
    answer: ServerFolders,
  },
  beginIntake: {
    method: 'POST',
    path: '/api/shares/:shareId/intakes',
    right: 'manage',
    summary: 'Begin to take a drive over',
    body: NewIntake,
    answer: Intake,
  },
  intake: {
    method: 'GET',
    path: '/api/shares/:shareId/intakes/:intakeId',
    right: 'manage',
    summary: 'How far a drive is taken over',
    answer: Intake,
  },
  addDriveFiles: {
    method: 'POST',
    path: '/api/shares/:shareId/intakes/:intakeId/files',
    right: 'manage',
    summary: 'What a page has read of a drive',
    body: DriveFiles,
    largest: 1_000_000,
    answer: StillUnread,
  },
  intakeSeries: {
    method: 'GET',
    path: '/api/shares/:shareId/intakes/:intakeId/series',
    right: 'manage',
    summary: 'What becomes of the files of a drive',
    query: z.object({
      show: shownSeries.default('all'),
      words: z.string().max(200).optional(),
      after: z.coerce.number().int().min(-1).max(2_000_000_000).optional(),
    }),
    answer: SeriesPage,
  },
  decideIntake: {
    method: 'PUT',
    path: '/api/shares/:shareId/intakes/:intakeId/series',
    right: 'manage',
    summary: 'Decide what becomes of files of a drive',
    body: Decisions,
  },
  takeIntake: {
    method: 'POST',
    path: '/api/shares/:shareId/intakes/:intakeId/take',
    right: 'manage',
    summary: 'Take in what is wanted of a drive; what was refused is tried again',
  },
  stopIntake: {
    method: 'POST',
    path: '/api/shares/:shareId/intakes/:intakeId/stop',
    right: 'manage',
    summary: 'Take in no more for now',
  },
  takeDriveFile: {
    method: 'POST',
    path: '/api/shares/:shareId/intakes/:intakeId/take/file',
    right: 'manage',
    summary: 'Take in a file of a drive that a page reads',
    query: z.object({ no: z.coerce.number().int().min(0).max(2_000_000_000) }),
    body: 'bytes',
  },
  forgetIntake: {
    method: 'DELETE',
    path: '/api/shares/:shareId/intakes/:intakeId',
    right: 'manage',
    summary: 'Forget a drive; what was taken in of it stays',
  },
} as const satisfies Record<string, Endpoint>
