import { PasswordInput } from "@mantine/core";

/** A password that a person chooses. */
export function NewPassword({ value, onChange }: { value: string; onChange: (value: string) => void }) {
	return (
		<PasswordInput
			label="New password"
			description="12 characters or more; three or four words that do not belong together are good"
			autoComplete="new-password"
			minLength={12}
			value={value}
			onChange={(event) => onChange(event.currentTarget.value)}
			required
			withAsterisk={false}
		/>
	);
}
