/** Sentences of how long versions stay. */
export const history = {
  'history.all-for': 'Alle Versionen für {span}',
  'history.one-an-hour': 'eine je Stunde bis {span}',
  'history.one-a-day': 'eine je Tag bis {span}',
  'history.one-a-week': 'eine je Woche bis {span}',
  'history.one-a-month': 'eine je Monat bis {span}',
  'history.one-a-month-for-good': 'eine je Monat für immer',
  'history.then': '{first}, dann {then}',
  'history.days': '{n, plural, one {# Tag} other {# Tage}}',
  'history.months': '{n, plural, one {# Monat} other {# Monate}}',
  'history.years': '{n, plural, one {# Jahr} other {# Jahre}}',
  'history.rule': '{what}.',
}
