import { expect, it } from 'vitest'

import { fileName } from './files'

it.each([
  ['Quillmoor Water', 'Quillmoor Water.json'],
  ['../../etc/passwd', 'etc-passwd.json'],
  ['a\\b:c*"<>|?', 'a-b-c------.json'],
  ['Übung 2027', 'Übung 2027.json'],
  ['..', 'plan.json'],
])('a file of %s is called %s', (name, file) => expect(fileName(name, 'json')).toBe(file))
