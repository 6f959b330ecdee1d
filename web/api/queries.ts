// What more than one screen asks the server, asked and held in one way.
import { queryOptions } from '@tanstack/react-query'
import { call } from './call'
import { keys } from './keys'

export const queries = {
  /** The shares of whoever is signed in. */
  shares: queryOptions({ queryKey: keys.shares(), queryFn: () => call('shares', {}) }),
  people: queryOptions({ queryKey: keys.people(), queryFn: () => call('people', {}) }),
  groups: queryOptions({ queryKey: keys.groups(), queryFn: () => call('groups', {}) }),
  directory: queryOptions({ queryKey: keys.directory(), queryFn: () => call('directory', {}), staleTime: 60_000 }),
  watched: queryOptions({ queryKey: keys.watched(), queryFn: () => call('watched', {}) }),
  rightsNews: queryOptions({ queryKey: keys.rightsNews(), queryFn: () => call('rightsNews', {}) }),
  undelivered: queryOptions({ queryKey: keys.undelivered(), queryFn: () => call('undelivered', {}) }),
  templates: queryOptions({ queryKey: keys.templates(), queryFn: () => call('templates', {}), staleTime: 60_000 }),
  recent: queryOptions({ queryKey: keys.recent(), queryFn: () => call('recent', {}) }),
  changedByOthers: queryOptions({
    queryKey: keys.recent('changed by others'),
    queryFn: () => call('changedByOthers', {}),
  }),
  recentPlaces: queryOptions({ queryKey: keys.recentPlaces(), queryFn: () => call('recentPlaces', {}) }),
  sessions: queryOptions({ queryKey: keys.sessions(), queryFn: () => call('sessions', {}) }),
  copyAlarms: queryOptions({ queryKey: keys.copies('alarms'), queryFn: () => call('copyAlarms', {}) }),
  audits: queryOptions({ queryKey: keys.audits(), queryFn: () => call('audits', {}) }),
  drills: queryOptions({ queryKey: keys.drills(), queryFn: () => call('drills', {}) }),
  managedProtection: queryOptions({
    queryKey: keys.managedProtection(),
    queryFn: () => call('managedProtection', {}),
  }),
  settings: queryOptions({ queryKey: keys.settings(), queryFn: () => call('settings', {}), staleTime: 60_000 }),
}
