declare module 's3rver' {
  /** A store that speaks S3's protocol and keeps its objects in a folder. */
  export default class S3rver {
    constructor(options: {
      address: string
      port: number
      silent: boolean
      directory: string
      configureBuckets: readonly { name: string }[]
    })
    run(): Promise<{ port: number }>
    close(): Promise<void>
  }
}
