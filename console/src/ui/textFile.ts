/** Reads a file that somebody chose. Text that is no UTF-8 would come out as other letters, so it is refused. */
export async function readText(file: File): Promise<string> {
  const bytes = await file.arrayBuffer();
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    throw new Error(
      `${file.name} is not written in UTF-8, which is expected here; programs offer that when a file is saved ("CSV UTF-8" in spreadsheets)`,
    );
  }
}
