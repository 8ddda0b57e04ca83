import { TextInput, type TextInputProps } from "@mantine/core";

interface SightFieldProps extends Omit<TextInputProps, "onChange"> {
	value: string;
	onChange: (value: string) => void;
}

/** A find text that limits what somebody sees. */
export function SightField({ onChange, ...others }: SightFieldProps) {
	return (
		<TextInput
			{...others}
			placeholder="everything"
			title="A condition on host.name, service.name, host.site, host.role, host.tags or source, such as host.site = oslo"
			onChange={(event) => onChange(event.currentTarget.value)}
		/>
	);
}
