import { type Settings, standardInterval } from '../../core/contract'

/** Until a person's own settings are known. Nothing is cleared away by these: the room is the widest there is. */
export const standardSettings: Settings = {
  recoveryInterval: standardInterval,
  continuousSave: false,
  keptDays: 14,
  weeklyDrill: false,
  initials: '',
  appearance: 'system',
  language: 'system',
  defaults: {},
  unsavedPlace: null,
  deviceRoom: 10_000,
  storageRoom: 10_000,
  goesFirst: 'oldest',
}
