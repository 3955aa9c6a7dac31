import type { ObjectStore } from './object-store.ts'
import type { StoreAddress } from './store-address.ts'

/** Opens a store. Its client is large: it is loaded only where there is one. */
export async function openStore(address: StoreAddress, options: { stillMs?: number } = {}): Promise<ObjectStore> {
  // that versions to come want a newer Node is known; this one is pinned
  process.env.AWS_SDK_JS_NODE_VERSION_SUPPORT_WARNING_DISABLED ??= 'true'
  const { ObjectStore } = await import('./object-store.ts')
  return new ObjectStore(address, options)
}
