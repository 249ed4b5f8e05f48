import { fsyncSync } from "node:fs";
import type { PGlite } from "@electric-sql/pglite";
import { NodeFS } from "@electric-sql/pglite/nodefs";

/** An open file as the database's own file system knows it; `nfd` is the machine's handle. */
export interface OpenFile {
  nfd: number;
}
/** What the file system is asked to do, by name; all but flushing is there already. */
export type Operations = Record<string, (...parameters: never[]) => unknown>;
export interface FileSystemOperations {
  /** On names and directories. */
  node_ops: Operations;
  /** On open files. */
  stream_ops: Operations;
}

/**
 * The data folder, with flushing: as it comes, the database's file system answers a flush without
 * asking the machine for one, so that a loss of power takes what was acknowledged. Here each flush
 * reaches the disk, and PostgreSQL keeps its own order of flushing: the log first, at each commit.
 */
export class DurableFiles extends NodeFS {
  override async init(
    pg: PGlite,
    options: Parameters<NodeFS["init"]>[1],
  ): ReturnType<NodeFS["init"]> {
    const { emscriptenOpts } = await super.init(pg, options);
    const prepare = (module: unknown) =>
      this.prepare((module as { NODEFS: FileSystemOperations }).NODEFS);
    return {
      emscriptenOpts: {
        ...emscriptenOpts,
        // Before the folder is mounted.
        preRun: [prepare, ...(emscriptenOpts.preRun as never[])] as never,
      },
    };
  }

  protected prepare({ stream_ops }: FileSystemOperations): void {
    stream_ops.fsync = (file: OpenFile) => {
      fsyncSync(file.nfd);
      return 0;
    };
  }
}
