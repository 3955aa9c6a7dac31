import type { IncomingMessage } from 'node:http'
import proxyAddr from 'proxy-addr'

/** Tells the address of who asks. */
export type ClientAddress = (request: IncomingMessage | undefined) => string

/**
 * The address a connection comes from; through proxies that are trusted, the one that the last of them says. Without any,
 * what a client says of itself counts nothing.
 * @param trusted Addresses and subnets with commas between, also "loopback", "linklocal", "uniquelocal".
 * @throws {TypeError} If one of them is no address.
 */
export function createClientAddress(trusted = ''): ClientAddress {
  const names = trusted
    .split(',')
    .map((name) => name.trim())
    .filter(Boolean)
  const isTrusted = names.length > 0 ? proxyAddr.compile(names) : () => false
  // tests without a socket count as one client
  return (request) => (request?.socket ? proxyAddr(request, isTrusted) : '127.0.0.1')
}
