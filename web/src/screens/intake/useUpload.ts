import { computed, ref } from "vue";
import { ApiError, answerOf, client } from "@/api/client";

/** What can be read, by the endings of names; the server looks again. */
const READABLE = [".csv", ".tsv", ".xlsx", ".jsonl", ".ndjson", ".parquet", ".gz", ".zip", ".json"];
export const ACCEPTED = READABLE.join(",");

const readable = (file: File): boolean =>
  !file.name.startsWith(".") && READABLE.some((end) => file.name.toLowerCase().endsWith(end));

/** Sends one file; what has been sent so far is told on the way. */
function send(address: string, file: File, sent: (bytes: number) => void): Promise<void> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest();
    request.open("PUT", address);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.upload.onprogress = (event) => sent(event.loaded);
    request.onerror = () =>
      reject(new ApiError(0, "Driftfield does not answer", `${file.name} could not be uploaded.`));
    request.onload = () => {
      if (request.status === 201) return resolve();
      let problem: { title?: string; detail?: string } = {};
      try {
        problem = JSON.parse(request.responseText) as typeof problem;
      } catch {
        // The answer came from something else than the application.
      }
      reject(
        new ApiError(
          request.status,
          problem.title ?? "A file was not taken",
          problem.detail ?? `${file.name}: the server answered ${request.status}.`,
        ),
      );
    };
    request.send(file);
  });
}

/** Hands files over; `then` is told the folder they are in and what they are called. */
export function useUpload(then: (incoming: string, name: string) => Promise<unknown>) {
  const sending = ref<{ name: string; sent: number; size: number } | null>(null);
  const failure = ref<ApiError | null>(null);
  const leftOut = ref<string[]>([]);
  const share = computed(() => (sending.value ? sending.value.sent / sending.value.size : 0));

  async function upload(all: File[], called = ""): Promise<void> {
    const files = all.filter(readable);
    leftOut.value = all.filter((file) => !files.includes(file)).map((file) => file.name);
    failure.value = null;
    const first = files[0];
    if (!first || sending.value) return;
    const name = called || (files.length === 1 ? first.name : `${files.length} files`);
    const size = files.reduce((sum, file) => sum + file.size, 0) || 1;
    sending.value = { name, sent: 0, size };
    try {
      const { incoming } = await answerOf(client.POST("/api/intake/uploads/"));
      let before = 0;
      for (const file of files) {
        await send(
          `/api/intake/uploads/${incoming}/file/${encodeURIComponent(file.name)}/`,
          file,
          (bytes) => {
            sending.value = { name, sent: before + bytes, size };
          },
        );
        before += file.size;
      }
      await then(incoming, name);
    } catch (error) {
      failure.value =
        error instanceof ApiError ? error : new ApiError(0, "Upload failed", String(error));
    } finally {
      sending.value = null;
    }
  }

  /** What was dropped: files, or folders with the files in them. */
  async function drop(data: DataTransfer | null): Promise<void> {
    const entries = [...(data?.items ?? [])].map((item) => item.webkitGetAsEntry());
    const folders = entries.filter((one) => one?.isDirectory) as FileSystemDirectoryEntry[];
    if (!folders.length) return upload([...(data?.files ?? [])]);
    const files = (await Promise.all(folders.map(filesOf))).flat();
    return upload(files, folders.length === 1 ? folders[0]?.name : "");
  }

  return { sending, share, failure, leftOut, upload, drop };
}

async function filesOf(folder: FileSystemDirectoryEntry): Promise<File[]> {
  const reader = folder.createReader();
  const found: FileSystemEntry[] = [];
  // A folder is told in parts, until an empty one.
  for (;;) {
    const part = await new Promise<FileSystemEntry[]>((resolve, reject) =>
      reader.readEntries(resolve, reject),
    );
    if (!part.length) break;
    found.push(...part);
  }
  return Promise.all(
    found
      .filter((one) => one.isFile)
      .map((one) => new Promise<File>((ok, no) => (one as FileSystemFileEntry).file(ok, no))),
  );
}
