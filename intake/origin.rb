# frozen_string_literal: true

require "socket"

module Northdrift
  module Intake
    # What the machine is called of lines that name none: after the folder, the archive or the upload they came from.
    module Origin
      # Folders that every machine has tell nothing of it.
      EVERYWHERE =
        %w[var log logs tmp home root srv opt mnt media data run usr private uploads downloads desktop].freeze
      PACKED = /(?:\.(?:tar|tgz|tbz2?|txz|zip|gz|bz2|xz|zst|7z))+\z/i
      # Logs of this computer.
      HERE = %r{\A/var/log(?:/|\z)}

      # RFC 1122, section 3.2.1.3; RFC 4291, section 2.5.3
      LOOPBACK = /\A(?:127\.|::1\z|::ffff:127\.)/

      module_function

      # @param name [String] of a part of an upload, as the person's computer has it, with its folders
      # @param given_us [Integer] when the person gave it
      # @param zone [String] IANA zone
      # @return [String]
      def of_upload(name, given_us, zone)
        archive(name) || folder(name.split("/")[0..-2].find { |one| !one.empty? && one != "." && one != ".." }) ||
          "upload-#{TZInfo::Timezone.get(zone).to_local(Time.at(0, given_us, :microsecond)).strftime('%Y-%m-%d-%H%M')}"
      end

      # @param name [String] of a part of a file on this computer
      # @param given [Array<String>] what was asked to be read: files and folders
      # @return [String]
      def of_path(name, given)
        root = given.find { |path| name == path || name.start_with?("#{path.chomp('/')}/", "#{path}!") }
        return archive(name) || Socket.gethostname if root.nil?

        path = File.expand_path(File.directory?(root) ? root : File.dirname(root))
        archive(name) || (HERE.match?(path) ? nil : path.split("/").reverse.filter_map { |one| folder(one) }.first) ||
          Socket.gethostname
      end

      # @param address [String, nil] that a sender has; nil for what runs on this computer
      # @return [String]
      def of_sender(address) = address.nil? || LOOPBACK.match?(address) ? Socket.gethostname : address

      # @param name [String, nil]
      # @param rules [Hash, nil] see {Store::IntakeRules.definition}
      # @return [String, nil] what people call it by now
      def called(name, rules) = name && (rules&.dig("called", name) || name)

      # @return [String, nil] that of the innermost archive
      def archive(name)
        inside = name.split("!")
        inside.size < 2 ? nil : folder(File.basename(inside[-2]).sub(PACKED, ""))
      end
      private_class_method :archive

      # @return [String, nil] a name that a machine can have
      def folder(name)
        text = name.to_s.gsub(/[\s;,"]+/, "-")[0, 120]
        text unless text.empty? || EVERYWHERE.include?(text.downcase)
      end
      private_class_method :folder
    end
  end
end
