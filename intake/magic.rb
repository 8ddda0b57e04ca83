# frozen_string_literal: true

module Northdrift
  module Intake
    # Tells from the first bytes what a file is. Names are not asked.
    module Magic
      PROBE = 8192
      # Containers that are opened.
      CONTAINERS = { gzip: "\x1F\x8B".b, zip: "PK\x03\x04".b }.freeze
      TAR_AT = 257
      TAR = "ustar"

      # What is recognised and cannot be read as lines.
      OTHERS = {
        "\xFD7zXZ\x00".b => "compressed with xz; unpack it first",
        "BZh".b => "compressed with bzip2; unpack it first",
        "\x28\xB5\x2F\xFD".b => "compressed with zstd; unpack it first",
        "7z\xBC\xAF\x27\x1C".b => "a 7z archive; unpack it first",
        "PK\x05\x06".b => "an empty zip archive",
        "LPKSHHRH".b => "a binary journal file; write it out first with journalctl -o export or -o short-iso",
        "ElfFile\x00".b => "a binary Windows event log; write it out first as XML",
        "SQLite format 3\x00".b => "a database file, not a log",
        "\x7FELF".b => "a program file, not a log",
        "%PDF-".b => "a PDF document, not a log",
        "\x89PNG".b => "a picture, not a log"
      }.freeze
      BOMS = {
        "\xFF\xFE".b => Encoding::UTF_16LE, "\xFE\xFF".b => Encoding::UTF_16BE, "\xEF\xBB\xBF".b => Encoding::UTF_8
      }.freeze

      # Bytes that text has no use for; NUL is among them, and a few do no harm.
      CONTROL = "\x00-\x06\x0E-\x1A\x1C-\x1F\x7F"
      FEW = 4
      MOST_CONTROL = 0.15
      # Where it is not UTF-8 either.
      MOST_CONTROL_UNSURE = 0.03

      module_function

      # @param head [String] the first bytes
      # @return [Symbol, nil] :gzip, :zip, :tar
      def container(head)
        CONTAINERS.each { |name, magic| return name if head.start_with?(magic) }
        :tar if head.byteslice(TAR_AT, TAR.bytesize) == TAR
      end

      # @param head [String] the first bytes
      # @return [String, nil] what the content is when it is not text
      def not_text(head)
        OTHERS.each { |magic, what| return what if head.start_with?(magic) }
        return if bom(head)

        # A character may be cut off at the end.
        utf8 = head.byteslice(0, [head.bytesize - 3, 0].max).force_encoding(Encoding::UTF_8).valid_encoding?
        return unless head.count(CONTROL) > [head.bytesize * (utf8 ? MOST_CONTROL : MOST_CONTROL_UNSURE), FEW].max

        "binary, not text"
      end

      # @return [Array(String, Encoding), nil] byte order mark and the encoding that it tells
      def bom(head) = BOMS.find { |mark, _| head.start_with?(mark) }
    end
  end
end
