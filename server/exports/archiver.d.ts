/** What we use of it; its own types are of an earlier major version. */
declare module "archiver" {
  import type { Readable, Transform } from "node:stream";
  export class ZipArchive extends Transform {
    constructor(options?: { zlib?: { level?: number }; forceUTC?: boolean });
    append(content: Buffer | string | Readable, entry: { name: string; date?: Date; store?: boolean }): this;
    file(path: string, entry: { name: string; date?: Date; store?: boolean }): this;
    finalize(): Promise<void>;
  }
}
