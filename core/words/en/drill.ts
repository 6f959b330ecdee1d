/** Sentences of recovery drills. */
export const drill = {
  'drill.the-drill-could-not-be-run': 'The drill could not be run.',
  'drill.recovery-drills': 'Recovery drills',
  'drill.a-scratch-page-writes-with-your-settings':
    'A scratch page writes with your settings, is ended without warning, and is got back as real work would be.',
  'drill.once-a-week': 'Once a week',
  'drill.with-a': 'With a',
  'drill.running': 'Running …',
  'drill.run-a-drill-now': 'Run a drill now',
  'drill.opening-the-page-of-the-drill': 'Opening the page of the drill …',
  'drill.it-writes-letters-it-is-ended-at':
    'It writes: {letters, plural, one {# letter} other {# letters}}. It is ended at a random moment.',
  'drill.it-was-ended-getting-its-work-back': 'It was ended. Getting its work back …',
  'drill.no-drill-was-run-yet-it-takes': 'No drill was run yet. It takes less than a minute with the usual interval.',
  'drill.earlier-drills': '{earlier, plural, one {# earlier drill} other {# earlier drills}}',
  'drill.of-letters-lost-on-this-computer': '{charactersLost} of {charactersTyped} letters lost on this computer',
  'drill.without-it': ', {charactersLost} without it',
  'drill.passed': 'Passed',
  'drill.failed': 'Failed',
  'drill.in-a-on-letters-typed-in':
    '{at}, in a {kind} on {deviceName}: {charactersTyped, plural, one {# letter} other {# letters}} typed in {seconds}',
  'drill.with-a-point-every': ', with a point every {sayInterval}',
  'drill.would-have-been-lost': 'Would have been lost',
  'drill.it-was-behind-by': 'It was behind by',
  'drill.at-most-promised': 'At most promised',
  'drill.getting-back-took': 'Getting back took',
  'drill.no-recovery-point-was-due-within-the':
    'No recovery point was due within the drill; set a shorter interval to rehearse it.',
  'drill.letters': '{charactersLost, plural, one {# letter} other {# letters}}',
  'drill.the-weekly-recovery-drill-is-running': 'The weekly recovery drill is running.',
  'drill.the-last-recovery-drill-failed':
    'The last recovery drill <span>{passed, select, true {passed} other {failed}}</span>, {at}.',
  'drill.no-recovery-drill-was-run-yet': 'No recovery drill was run yet.',
  'drill.drills': 'Drills',
  'drill.the-scratch-page-did-not-start': 'The scratch page did not start.',
  'drill.a-drill-this-page-writes-as-you':
    'A drill: this page writes as you would, and is ended in the middle of a word, as a crash would end it. ',
  'drill.a-drill-saves-nothing': 'A drill saves nothing.',
  'drill.this-computer': 'This computer',
  'drill.server-without': 'The server, without this computer',
}
