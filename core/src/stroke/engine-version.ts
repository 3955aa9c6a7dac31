/**
 * Counted up whenever a stroke of any brush comes to look different by as much as one level: pictures rendered before are
 * not used then. `engine-version.test.ts` holds it to what the engine paints.
 */
export const ENGINE_VERSION = 6
