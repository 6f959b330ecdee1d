/** Sentences of people, groups and what they can reach. */
export const people = {
  'people.line-no-name': 'There is no name.',
  'people.line-long-name': 'The name is longer than 100 letters.',
  'people.line-handle': '{handle} cannot be signed in with: use 2 to 40 small letters, digits, dots, dashes.',
  'people.line-taken': 'Somebody signs in with {handle} already.',
  'people.line-twice': '{handle} is also in line {other}.',
  'people.line-yes-or-no': '“{text}” says neither yes nor no.',
  'people.line-nobody': 'There is nobody in this list.',
  'people.line-too-many': 'At most {most, number} people are added at once.',
}
