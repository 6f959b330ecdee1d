/** Sentences of keeping unsaved work. */
export const recovery = {
  'recovery.you-type-fast-even-the-shortest-interval':
    'You type fast: even the shortest interval would cost {lost} letters on average if this computer were lost.',
  'recovery.if-this-computer-were-lost-you-would':
    'If this computer were lost you would write {lost} letters again on average, less than a sentence.{shorter, select, true { A shorter interval would save {max} of them and ask the server {it} times as often.} other {}}',
  'recovery.this-browser-had-cleared-the-unsaved-work': 'This browser had cleared the unsaved work on this computer.',
  'recovery.this-computer-has-no-room-left-for': 'This computer has no room left for unsaved work.',
  'recovery.this-computer-refuses-to-keep-unsaved-work': 'This computer refuses to keep unsaved work.',
  'recovery.server-refuses-points': 'The server refuses unsaved work: {why}',
  'recovery.other-model':
    'This work was written on its file as another Jaula reads it, and cannot be put on it here without mistakes.',
  'recovery.drill-not-what-was-typed':
    '{device, select, true {What this computer gave back} other {What the server gave back}} is not what was typed.',
  'recovery.drill-behind':
    '{device, select, true {This computer} other {The server}} was {ms} ms behind; {promised} are promised.',
  'recovery.cannot-be-put-together': 'The unsaved work on this computer cannot be put together.',
}
