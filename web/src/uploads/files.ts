/** A file with the folders that it lay in. */
export interface Found {
	file: File;
	path: string;
}

async function inside(entry: FileSystemEntry, folder: string): Promise<Found[]> {
	if (entry.isFile) {
		const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
		return [{ file, path: folder + file.name }];
	}
	const reader = (entry as FileSystemDirectoryEntry).createReader();
	const found: Found[] = [];
	// A reader hands out its entries in portions.
	for (;;) {
		const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
		if (some.length === 0) return found;
		for (const one of some) found.push(...(await inside(one, `${folder}${entry.name}/`)));
	}
}

/** All files of a drop, from its folders too. */
export async function dropped(data: DataTransfer): Promise<Found[]> {
	const entries = [...data.items].map((item) => item.webkitGetAsEntry()).filter((entry) => entry !== null);
	if (!entries.length) return [...data.files].map((file) => ({ file, path: file.name }));
	return (await Promise.all(entries.map((entry) => inside(entry, "")))).flat();
}

/** Asks the person for files or for a folder. */
export function ask(what: "files" | "folder"): Promise<Found[]> {
	return new Promise((resolve) => {
		const input = document.createElement("input");
		input.type = "file";
		input.multiple = true;
		input.webkitdirectory = what === "folder";
		input.onchange = () =>
			resolve([...(input.files ?? [])].map((file) => ({ file, path: file.webkitRelativePath || file.name })));
		input.oncancel = () => resolve([]);
		input.click();
	});
}
