import { FormatError, LimitError } from '@satchel/core/errors'
import { type ListingKind, readListing } from '@satchel/core/exchange/protocol'
import { fromUtf8 } from '@satchel/core/formats/text'
import type { ReadListing } from './results.ts'

/** Reads what an exchange answered, which may be anything. */
export async function readExchange({ bytes, kind }: { bytes: Uint8Array; kind: ListingKind }): Promise<ReadListing> {
  try {
    return readListing(fromUtf8(bytes, 'listing', 0), kind)
  } catch (error) {
    if (error instanceof FormatError || error instanceof LimitError) return { wrong: error.message }
    throw error
  }
}
