# frozen_string_literal: true

require "etc"
require "thor"

module Northdrift
  module Server
    # What all commands of the command line share.
    class Commands < Thor
      DATA = {
        type: :string, default: ENV.fetch("NORTHDRIFT_DATA", File.join(Dir.home, ".northdrift")), desc: "data folder"
      }.freeze

      check_unknown_options!
      remove_command :tree

      def self.exit_on_failure? = true

      # @param dir [String] data folder
      # @raise [Error] when it is none
      def self.check_there(dir)
        return if Store::Database.there?(dir)

        raise Error, "there is no data in #{dir} yet: import something, or name another folder with --data"
      end

      # @param word [String] as it was typed
      # @return [String, nil] in UTF-8, whatever the terminal says of itself; nil when it is no text in it
      def self.text(word) = word.dup.force_encoding(Encoding::UTF_8).then { |text| text if text.valid_encoding? }

      # A name that was mistyped is noticed.
      # @param dir [String] data folder, which is made when it is none
      def self.open_or_make(dir)
        warn "northdrift: made a new data folder: #{Text.display(dir)}" unless Store::Database.there?(dir)
        Store::Database.open(dir)
      end

      # @return [String] who runs the command
      def self.user = "#{Etc.getpwuid(Process.euid)&.name || Process.euid} (command line)"

      # As usages name it: what was called, not the file that Ruby was given.
      def self.basename = "northdrift"

      no_commands do
        # Opens the data folder. One that is not there is mistyped: only what brings something in makes one.
        def there
          Commands.check_there(options[:data])
          Store::Database.open(options[:data])
        end

        # What a command changes stands in the audit trail, under the name of whoever ran it.
        def invoke_command(command, *arguments)
          check(arguments) unless is_a?(Cli)
          Store::Changes.start(Commands.user)
          super
        ensure
          changes = Store::Changes.finish
          note(command, changes) if changes.any?
        end

        # What is kept is text; a data folder may be called anything.
        def check(arguments)
          words = [*arguments, *options.except("data").values].flatten.grep(String)
          wrong = words.find { |word| Commands.text(word).nil? } or return

          raise Error, "“#{Text.line(wrong)}” is no text in UTF-8"
        end

        def note(command, changes)
          group = self.class.namespace[/\w+\z/].delete_suffix("cli").delete_suffix("_")
          Store::AuditTrail.append(
            who: Commands.user, address: nil,
            action: [self.class.basename, group, command.name].reject(&:empty?).join(" "), target: "", outcome: 0,
            changes: changes
          )
        end
      end
    end
  end
end
