import { expect, test } from 'vitest'
import { figure } from './figure'

test('figures are written as the server writes them', () => {
  // Left: what Python's format gives for the same numbers.
  expect(['5.2', '5.3', '2.2', '2.8', '0.1', '0.4', '-0.2', '-1.8'].join()).toBe(
    [5.25, 5.35, 2.25, 2.75, 0.125, 0.375, -0.25, -1.75].map((v) => figure(v)).join(),
  )
  expect([figure(0.5, 0), figure(1.5, 0), figure(0.125, 2), figure(7, 1)]).toEqual(['0', '2', '0.12', '7.0'])
})
