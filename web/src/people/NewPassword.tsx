import { PasswordInput } from "@mantine/core";

/** A password that a person chooses. */
export function NewPassword({ value, onChange }: { value: string; onChange: (value: string) => void }) {
	return (
		<PasswordInput
			label="New password"
			description="At least 12 characters; three or four unrelated words work well"
			autoComplete="new-password"
			minLength={12}
			value={value}
			onChange={(event) => onChange(event.currentTarget.value)}
			required
			withAsterisk={false}
		/>
	);
}
