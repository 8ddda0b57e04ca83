import { TextInput, type TextInputProps } from "@mantine/core";
import { limitable, type Role } from "./session";

interface SightFieldProps extends Omit<TextInputProps, "role" | "onChange" | "value"> {
	role: Role;
	value: string;
	onChange: (value: string) => void;
}

/** A find text that limits what somebody sees; operators and administrators see everything. */
export function SightField({ role, value, onChange, disabled, ...others }: SightFieldProps) {
	const may = limitable(role);
	return (
		<TextInput
			{...others}
			value={may ? value : ""}
			disabled={disabled || !may}
			placeholder={may ? "host.site = oslo" : "sees everything"}
			title={
				may
					? "A condition on host.name, service.name, host.site, host.role, host.tags or source; empty: everything"
					: "Operators and administrators see everything"
			}
			onChange={(event) => onChange(event.currentTarget.value)}
		/>
	);
}
