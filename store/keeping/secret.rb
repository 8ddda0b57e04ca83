# frozen_string_literal: true

require "active_support/message_encryptor"

module Northdrift
  module Store
    # What must be told to others and to nobody else, such as a token: in the database it is encrypted (AES-256-GCM), by
    # a key that stands beside it in the data folder.
    module Secret
      FILE = "secrets.key"
      CIPHER = "aes-256-gcm"

      module_function

      # @return [String]
      def seal(text) = encryptor.encrypt_and_sign(text)

      # @return [String, nil] nil where it was sealed by another key
      def open(sealed)
        encryptor.decrypt_and_verify(sealed)
      rescue ActiveSupport::MessageEncryptor::InvalidMessage
        nil
      end

      def encryptor
        ActiveSupport::MessageEncryptor.new(key, cipher: CIPHER, serializer: ActiveSupport::MessageEncryptor::NullSerializer)
      end
      private_class_method :encryptor

      def key
        path = File.join(File.dirname(Database.path), FILE)
        File.open(path, File::WRONLY | File::CREAT | File::EXCL, Database::FILE_MODE) do |file|
          file.write(SecureRandom.bytes(ActiveSupport::MessageEncryptor.key_len(CIPHER)))
        end
        File.binread(path)
      rescue Errno::EEXIST
        File.binread(path)
      end
      private_class_method :key
    end
  end
end
