# frozen_string_literal: true

module Northdrift
  # What may be done with text from a log before a person or another program sees it. Log text is hostile input.
  module Text
    # Control characters other than tab and line feed, and the invisible characters that can reorder a line
    # (Unicode Standard Annex 9, section 2: explicit directional formatting).
    HIDDEN = /[\u0000-\u0008\u000B-\u001F\u007F-\u009F\u200E\u200F\u202A-\u202E\u2066-\u2069\uFEFF]/

    # How line feeds and tabs stand where a text is to have none.
    BREAKS = { "\n" => "\\n", "\t" => "\\t" }.freeze
    # How bytes stand that are no text.
    BYTES = Array.new(256) { |byte| format("\\x%02X", byte).freeze }.freeze

    module_function

    # @param bytes [String] any bytes
    # @return [String] valid UTF-8; bytes that are none stand as `\xNN`
    def utf8(bytes)
      text = bytes.encoding == Encoding::UTF_8 ? bytes : bytes.dup.force_encoding(Encoding::UTF_8)
      return text if text.valid_encoding?

      text.scrub { |bad| bad.bytesize == 1 ? BYTES[bad.getbyte(0)] : bad.bytes.map { |byte| BYTES[byte] }.join }
    end

    # @param bytes [String] any bytes
    # @return [String] valid UTF-8 in which control and reordering characters are shown as `\xNN` or `\u{…}`
    def display(bytes)
      text = utf8(bytes)
      return text unless text.match?(HIDDEN)

      text.gsub(HIDDEN) { |char| char.ord < 256 ? format("\\x%02X", char.ord) : format("\\u{%04X}", char.ord) }
    end

    # @param bytes [String] any bytes
    # @return [String] as {.display}, in one line and one column: no text can look like a further one
    def line(bytes) = display(bytes).gsub(/[\n\t]/, BREAKS)
  end
end
