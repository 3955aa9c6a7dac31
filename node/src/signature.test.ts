import { execFileSync } from 'node:child_process'
import { createPrivateKey, createPublicKey } from 'node:crypto'
import { mkdtempSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { checkSignature, createSigningKey, fingerprintOf, openSigner, publicPemOf } from './signature.ts'

/** RFC 8032, section 7.1: secret key, public key, message and signature of tests 1, 2 and 3. */
const VECTORS = [
  [
    '9d61b19deffd5a60ba844af492ec2cc44449c5697b326919703bac031cae7f60',
    'd75a980182b10ab7d54bfed3c964073a0ee172f3daa62325af021a68f707511a',
    '',
    'e5564300c360ac729086e2cc806e828a84877f1eb8e5d974d873e065224901555fb8821590a33bacc61e39701cf9b46bd25bf5f0595bbe24655141438e7a100b',
  ],
  [
    '4ccd089b28ff96da9db6c346ec114e0f5b8a319f35aba624da8cf6ed4fb8a6fb',
    '3d4017c3e843895a92b70aa74d1b7ebc9c982ccf2ec4968cc0cd55f12af4660c',
    '72',
    '92a009a9f0d4cab8720e820b5f642540a2b27b5416503f8fb3762223ebdb69da085ac1e43e15996e458f3613d0f11d8c387b2eaeb4302aeeb00d291612bb0c00',
  ],
  [
    'c5aa8df43f9f837bedb7442f31dcb7b166d38535076f094b85ce3a2e0b4458f7',
    'fc51cd8e6218a1a38da47ed00230f0580816ed13ba3303ac5deb911548908025',
    'af82',
    '6291d657deec24024827e69c3abe01a30ce548a284743a445e3680d7db5ac3ac18ff9b538d16f290ae67f760984dc6594a7c15e9716ed28dc027beceea1ec40a',
  ],
] as const

/** The bytes that stand before a key's own in DER: RFC 8410, section 7 and section 4. */
const PRIVATE_HEAD = '302e020100300506032b657004220420'
const PUBLIC_HEAD = '302a300506032b6570032100'
const privatePem = (hex: string) =>
  createPrivateKey({ key: Buffer.from(PRIVATE_HEAD + hex, 'hex'), format: 'der', type: 'pkcs8' })
    .export({ type: 'pkcs8', format: 'pem' })
    .toString()
const publicPem = (hex: string) =>
  createPublicKey({ key: Buffer.from(PUBLIC_HEAD + hex, 'hex'), format: 'der', type: 'spki' })
    .export({ type: 'spki', format: 'pem' })
    .toString()

describe('signatures', () => {
  it.each(VECTORS)('are those of RFC 8032 for %s', (secret, open, message, signature) => {
    const signer = openSigner(privatePem(secret))
    const bytes = Buffer.from(message, 'hex')
    expect(signer.pem).toBe(publicPem(open))
    expect(Buffer.from(signer.sign(bytes)).toString('hex')).toBe(signature)
    expect(checkSignature(signer.pem, bytes, Buffer.from(signature, 'hex'))?.isValid).toBe(true)
    const other = Buffer.from(signature, 'hex')
    other[7] = (other[7] ?? 0) ^ 1
    expect(checkSignature(signer.pem, bytes, other)?.isValid).toBe(false)
    expect(checkSignature(signer.pem, Buffer.concat([bytes, Buffer.of(1)]), other)?.isValid).toBe(false)
  })

  it('are accepted by openssl, which made none of them', () => {
    const folder = mkdtempSync(join(tmpdir(), 'signature-'))
    const key = createSigningKey()
    const signer = openSigner(key.privatePem)
    writeFileSync(join(folder, 'text'), 'a list of checksums\n')
    writeFileSync(join(folder, 'text.sig'), signer.sign(Buffer.from('a list of checksums\n')))
    writeFileSync(join(folder, 'SIGNER.pem'), signer.pem)
    const verify = [
      'pkeyutl',
      '-verify',
      '-pubin',
      '-inkey',
      'SIGNER.pem',
      '-rawin',
      '-in',
      'text',
      '-sigfile',
      'text.sig',
    ]
    expect(execFileSync('openssl', verify, { cwd: folder, encoding: 'utf8' })).toContain('Verified Successfully')
    const der = execFileSync('openssl', ['pkey', '-pubin', '-in', 'SIGNER.pem', '-outform', 'DER'], { cwd: folder })
    const sum = execFileSync('sha256sum', { input: der, encoding: 'utf8' }).slice(0, 64)
    expect(fingerprintOf(signer.pem).replaceAll(' ', '')).toBe(sum)
  })

  it('of no key, or of a key of another kind, are none', () => {
    for (const pem of ['', 'nothing', publicPem(VECTORS[0][1]).slice(0, 40)])
      expect(checkSignature(pem, Buffer.of(1), Buffer.alloc(64))).toBeUndefined()
    const rsa = execFileSync('openssl', ['genpkey', '-algorithm', 'RSA', '-pkeyopt', 'rsa_keygen_bits:1024'], {
      encoding: 'utf8',
      stdio: ['ignore', 'pipe', 'ignore'],
    })
    expect(() => publicPemOf(rsa)).toThrow('Ed25519')
    expect(() => openSigner('nothing')).toThrow()
    const { publicPem: fine } = createSigningKey()
    expect(checkSignature(fine, Buffer.of(1), Buffer.of(1))?.isValid).toBe(false) // too short for one
  })
})
