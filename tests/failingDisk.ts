import { closeSync, fstatSync, mkdirSync, openSync, readdirSync, readFileSync } from "node:fs";
import { statSync, writeFileSync } from "node:fs";
import path from "node:path";
import {
  DurableFiles,
  type FileSystemOperations,
  type OpenFile,
  type Operations,
} from "../src/server/db/embedded/durableFiles";

/** Pieces in which a disk writes: each is there whole or not at all. */
const SECTOR = 512;

type Change = { at: number; bytes: Buffer } | { size: number };
interface FileOnDisk {
  /** What a loss of power leaves for certain. */
  flushed: Buffer;
  /** What was written since, in order. */
  changes: Change[];
}
/** A name that was made, given to another file, or taken away (null). */
interface Naming {
  name: string;
  file: number | null;
}

interface Node {
  name: string;
  parent: Node;
  mount: { opts: { root: string } };
}

/**
 * A disk whose power fails: it keeps what was flushed, and of what was written since any sectors,
 * by chance. Names made, changed or taken away are kept in their order up to any one of them, unless
 * their file or folder was flushed. Work goes on beside the picture that a failure leaves.
 */
export class FailingDisk extends DurableFiles {
  private watching = false;
  private readonly files = new Map<number, FileOnDisk>();
  /** Which file has an inode now: the machine gives those of deleted files to new ones. */
  private readonly inodes = new Map<number, number>();
  private readonly names = new Map<string, number>();
  private readonly folders = new Set<string>();
  private journal: Naming[] = [];
  private writesLeft = Infinity;
  private onFailure = () => {};

  /** `lies`: it answers a flush without doing it. */
  constructor(
    private readonly place: string,
    private readonly chance: () => number,
    private readonly lies = false,
  ) {
    super(place);
  }

  /** From here on; all that is there counts as flushed. */
  watch(): void {
    const visit = (folder: string) => {
      this.folders.add(folder);
      for (const entry of readdirSync(folder, { withFileTypes: true })) {
        const name = path.join(folder, entry.name);
        if (entry.isDirectory()) visit(name);
        else this.take(name);
      }
    };
    visit(this.place);
    this.watching = true;
  }

  /** Lets the power fail at that write from now: what it leaves is put into the folder. */
  failAtWrite(writes: number, into: string, onFailure: () => void): void {
    this.writesLeft = writes;
    this.onFailure = () => {
      this.leave(into);
      onFailure();
    };
  }

  /** Puts into the folder what a failure at this moment leaves. */
  leave(into: string): void {
    for (const folder of this.folders)
      mkdirSync(path.join(into, path.relative(this.place, folder)), { recursive: true });
    const names = new Map(this.names);
    const kept = Math.floor(this.chance() * (this.journal.length + 1));
    for (const { name, file } of this.journal.slice(0, kept))
      if (file === null) names.delete(name);
      else names.set(name, file);
    for (const [name, file] of names)
      writeFileSync(path.join(into, path.relative(this.place, name)), this.leftOf(file));
  }

  protected override prepare(operations: FileSystemOperations): void {
    super.prepare(operations);
    const { node_ops, stream_ops } = operations;
    after(stream_ops, "fsync", (_, file: OpenFile) => this.lies || this.flushed(file));
    after(
      stream_ops,
      "write",
      (written: number, file: OpenFile, from: Uint8Array, offset: number, _: number, at: number) =>
        this.wrote(file, Buffer.from(from.slice(offset, offset + written)), at),
    );
    after(stream_ops, "setattr", (_, file: OpenFile, { size }: { size?: number }) => {
      if (size !== undefined) this.change(this.fileOf(file), { size });
    });
    after(node_ops, "setattr", (_, node: Node, { size }: { size?: number }) => {
      if (size !== undefined) this.change(this.fileAt(realPath(node)), { size });
    });
    after(node_ops, "mknod", (made: Node) => this.made(realPath(made)));
    after(node_ops, "unlink", (_, folder: Node, name: string) =>
      this.named(path.join(realPath(folder), name), null),
    );
    before(node_ops, "rename", (node: Node, folder: Node, name: string) => {
      const from = realPath(node);
      this.named(path.join(realPath(folder), name), this.fileAt(from));
      this.named(from, null);
    });
  }

  private take(name: string): void {
    this.names.set(name, this.add(name, readFileSync(name)));
  }

  private made(name: string): void {
    if (!this.watching) return;
    if (statSync(name).isDirectory()) return void this.folders.add(name);
    this.named(name, this.add(name, Buffer.alloc(0)));
  }

  private add(name: string, flushed: Buffer): number {
    const file = this.files.size;
    this.files.set(file, { flushed, changes: [] });
    this.inodes.set(inodeOf(name), file);
    return file;
  }

  private fileAt(name: string): number | undefined {
    return this.inodes.get(inodeOf(name));
  }

  private fileOf({ nfd }: OpenFile): number | undefined {
    return this.inodes.get(fstatSync(nfd).ino);
  }

  private named(name: string, file: number | null | undefined): void {
    if (this.watching && file !== undefined) this.journal.push({ name, file });
  }

  private wrote(file: OpenFile, bytes: Buffer, at: number): void {
    this.change(this.fileOf(file), { at, bytes });
    if (--this.writesLeft === 0) this.onFailure();
  }

  private change(file: number | undefined, change: Change): void {
    if (this.watching && file !== undefined) this.files.get(file)!.changes.push(change);
  }

  private flushed(opened: OpenFile): void {
    if (!this.watching) return;
    const number = this.fileOf(opened);
    const file = number === undefined ? undefined : this.files.get(number);
    if (file) {
      for (const change of file.changes) file.flushed = changed(file.flushed, change);
      file.changes = [];
    }
    const folder = fstatSync(opened.nfd).ino;
    const concerns = (n: Naming) =>
      file ? n.file === number : inodeOf(path.dirname(n.name)) === folder;
    for (const n of this.journal.filter(concerns))
      if (n.file === null) this.names.delete(n.name);
      else this.names.set(n.name, n.file);
    this.journal = this.journal.filter((n) => !concerns(n));
  }

  private leftOf(file: number): Buffer {
    const { flushed, changes } = this.files.get(file)!;
    let left: Buffer = Buffer.from(flushed);
    for (const change of changes) {
      if ("size" in change) {
        if (this.chance() < 0.5) left = changed(left, change);
        continue;
      }
      for (let i = 0; i < change.bytes.length; i += SECTOR)
        if (this.chance() < 0.5) {
          const bytes = change.bytes.subarray(i, i + SECTOR);
          left = changed(left, { at: change.at + i, bytes });
        }
    }
    return left;
  }
}

function changed(content: Buffer, change: Change): Buffer {
  const size = "size" in change ? change.size : change.at + change.bytes.length;
  if ("size" in change && size < content.length) return Buffer.from(content.subarray(0, size));
  const longer =
    size > content.length ? Buffer.concat([content, Buffer.alloc(size - content.length)]) : content;
  if (!("size" in change)) change.bytes.copy(longer, change.at);
  return longer;
}

function realPath(node: Node): string {
  return node.parent === node ? node.mount.opts.root : path.join(realPath(node.parent), node.name);
}

function inodeOf(name: string): number {
  const handle = openSync(name, "r");
  try {
    return fstatSync(handle).ino;
  } finally {
    closeSync(handle);
  }
}

type Told = (...parameters: never[]) => unknown;

/** Lets `told` know what the operation gave, and was asked with. */
function after(operations: Operations, name: string, told: Told): void {
  const own = operations[name]!;
  operations[name] = (...parameters) => {
    const given = own(...parameters);
    told(given as never, ...parameters);
    return given;
  };
}

function before(operations: Operations, name: string, told: Told): void {
  const own = operations[name]!;
  operations[name] = (...parameters) => {
    told(...parameters);
    return own(...parameters);
  };
}
