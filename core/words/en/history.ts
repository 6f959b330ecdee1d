/** Sentences of how long versions stay. */
export const history = {
  'history.all-for': 'All versions for {span}',
  'history.one-an-hour': 'one an hour up to {span}',
  'history.one-a-day': 'one a day up to {span}',
  'history.one-a-week': 'one a week up to {span}',
  'history.one-a-month': 'one a month up to {span}',
  'history.one-a-month-for-good': 'one a month for good',
  'history.then': '{first}, then {then}',
  'history.days': '{n, plural, one {# day} other {# days}}',
  'history.months': '{n, plural, one {# month} other {# months}}',
  'history.years': '{n, plural, one {# year} other {# years}}',
  'history.rule': '{what}.',
}
