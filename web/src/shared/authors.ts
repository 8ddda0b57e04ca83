interface Authored {
	made_by: string | null;
	changed_by: string | null;
}

/** Who made it and who changed it last, behind what else is said; nothing where it is not known. */
export function authors({ made_by, changed_by }: Authored): string {
	const changed = changed_by && changed_by !== made_by ? `changed by ${changed_by}` : null;
	const said = [made_by && `by ${made_by}`, changed].filter(Boolean).join(", ");
	return said && ` · ${said}`;
}
