import type { IncomingMessage } from 'node:http'
import { expect, it } from 'vitest'
import { createClientAddress } from './client-address.ts'

const from = (remoteAddress: string, forwarded?: string) =>
  ({
    socket: { remoteAddress },
    headers: forwarded ? { 'x-forwarded-for': forwarded } : {},
  }) as unknown as IncomingMessage

it('believes what a trusted proxy says, and nobody else', () => {
  const plain = createClientAddress()
  expect(plain(from('10.0.0.9', '1.2.3.4'))).toBe('10.0.0.9')
  const behind = createClientAddress('10.0.0.0/8, 192.168.7.7')
  expect(behind(from('10.0.0.9', '1.2.3.4'))).toBe('1.2.3.4')
  expect(behind(from('10.0.0.9', '6.6.6.6, 1.2.3.4'))).toBe('1.2.3.4') // what the client put in front of it
  expect(behind(from('10.0.0.9', '6.6.6.6, 1.2.3.4, 192.168.7.7'))).toBe('1.2.3.4')
  expect(behind(from('8.8.8.8', '1.2.3.4'))).toBe('8.8.8.8')
  expect(() => createClientAddress('somewhere')).toThrow('invalid IP address')
  expect(plain(undefined)).toBe('127.0.0.1')
})
