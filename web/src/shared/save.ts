/** Has the browser save something as a file. */
export function save(name: string, content: Blob): void {
	const address = URL.createObjectURL(content);
	const link = document.createElement("a");
	link.href = address;
	link.download = name;
	link.click();
	URL.revokeObjectURL(address);
}

/** A name that a file may have everywhere. */
export function fileName(title: string, ending: string): string {
	const plain = title
		.toLowerCase()
		.replace(/[^a-z0-9]+/g, "-")
		.replace(/^-|-$/g, "");
	return `${plain || "northdrift"}.${ending}`;
}
