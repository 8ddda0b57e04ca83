# frozen_string_literal: true

module Northdrift
  module Reading
    # The readers, and which of them a line is offered to. A reader is a module with
    # `NAME`, `TITLE`, `WHY` and `read(line, context) → Event or nil`; adding a format is adding a file and a row here.
    #
    # The choice depends on the line alone, never on its file's name or on the lines before it, so that one file may mix
    # formats; but for those formats that name their columns in a line of their own. Narrow formats come before wide
    # ones.
    module Catalogue
      # In the order in which they are asked, with the first bytes that a format cannot do without: nil is any.
      DIGIT = "0123456789"
      MONTH = "JFMASOND"
      HIGH = (128..255).map(&:chr).join.b.freeze
      LETTER = [*"A".."Z", *"a".."z"].join.freeze
      FIRST_BYTES = {
        Formats::Csv => nil,
        Formats::W3c => "##{DIGIT}",
        Formats::Rfc5424 => "<",
        Formats::Container => "{#{DIGIT}",
        Formats::OtlpJson => "{",
        Formats::JournalJson => "{",
        Formats::DatabaseJson => "{",
        Formats::JsonLines => "{",
        Formats::WindowsEvent => "<\xEF",
        Formats::JavaXml => "<",
        Formats::JournalExport => "_",
        Formats::JournalVerbose => "MTWFS",
        Formats::Audit => "tn",
        Formats::Listing => "ET#",
        Formats::Device => "<*.:#{DIGIT}#{LETTER}",
        Formats::WebError => "[#{DIGIT}",
        Formats::Database => DIGIT,
        Formats::PackageHistory => "S",
        Formats::KernelRing => "<[#{DIGIT}kudmalscfn",
        Formats::XServer => "[",
        Formats::Rfc3164 => "<#{MONTH}TW#{DIGIT}",
        Formats::RubyLogger => "DIWEFA",
        Formats::Lettered => "[XACEWNIDdF",
        Formats::Headed => "=[#{MONTH}",
        Formats::KeyValue => "_@#{LETTER}#{HIGH}",
        Formats::AccessLog => nil,
        Formats::Proxy => ":[#{DIGIT}abcdefABCDEF",
        Formats::PackageLog => "#{MONTH}#{DIGIT}",
        Formats::Statements => "#/#{DIGIT}#{LETTER}",
        Formats::Stamped => nil,
        Formats::Within => nil,
        Formats::Plain => nil
      }.transform_values { |chars| chars&.b&.bytes }.freeze
      READERS = FIRST_BYTES.keys.freeze
      BY_NAME = READERS.to_h { |reader| [reader::NAME, reader] }.freeze

      OFFERS = Array.new(256) do |byte|
        READERS.select { |reader| FIRST_BYTES[reader].nil? || FIRST_BYTES[reader].include?(byte) }.freeze
      end.freeze

      DIGITS = (48..57)
      # What stands behind the year of a date that is written with dashes: where a line starts with a digit and this is
      # not its fifth byte, these have nothing to read.
      DASH = 45
      DATED = [Formats::Container, Formats::Database, Formats::Rfc3164, Formats::PackageLog].freeze
      # Most of those start with the address of a client.
      UNDATED =
        ([Formats::Csv, Formats::W3c, Formats::AccessLog, Formats::Proxy, *OFFERS[DIGITS.begin]].uniq - DATED).freeze
      NO_LINE = [Formats::Plain].freeze
      # Readers that tell whether two lines are parts of one record (`joins?`), and put them together (`join`).
      JOINING = READERS.select { |reader| reader.respond_to?(:joins?) }.to_h { |reader| [reader::NAME, reader] }.freeze

      # Readers of records that begin with a line without a text (`below`).
      HEADS = READERS.select { |reader| reader.respond_to?(:below) }.to_h { |reader| [reader::NAME, reader] }.freeze

      # Readers that tell whether an indented line is a record of its own (`further`).
      FURTHER = READERS.select { |reader| reader.respond_to?(:further) }.to_h { |reader| [reader::NAME, reader] }.freeze

      # Readers that tell whether a record goes on with the next line, whatever that looks like (`unfinished?`), and
      # which is its last (`finishes?`).
      UNFINISHED =
        READERS.select { |reader| reader.respond_to?(:unfinished?) }.to_h { |reader| [reader::NAME, reader] }.freeze

      module_function

      # What is no part of a text: colours and the like, for terminals (ECMA-48, section 5.4, control sequences); before
      # it, the zeros that a file has after a power cut, and the byte order mark of a file that was put behind another.
      ESCAPE = "\e"
      BEFORE = [0, 0xEF].freeze
      SCRAPS = /\e\[[0-?]*[ -\/]*[@-~]|\A(?:\0+|\xEF\xBB\xBF)+/n

      # @param line [String] bytes of one record
      # @param context [Context]
      # @return [Event]
      def read(line, context)
        first = line.getbyte(0)
        return cleaned(line, context) if scraps?(line, first)

        offers = if first.nil?
          NO_LINE
        else
          DIGITS.cover?(first) && line.getbyte(4) != DASH ? UNDATED : OFFERS[first]
        end
        # A loop of its own: leaving a block early is slow, and this is done for every line.
        at = 0
        at += 1 until (event = offers[at].read(line, context))
        Phrases.shipped.add(event)
      rescue StandardError => error
        failed(line, context, error)
      end

      def scraps?(line, first)
        (BEFORE.include?(first) || line.include?(ESCAPE)) && SCRAPS.match?(line) &&
          !line.start_with?(Formats::JournalExport::START) # which has lengths in bytes
      end
      private_class_method :scraps?

      # They are no part of what a line says, but of the line.
      def cleaned(line, context)
        read(line.gsub(SCRAPS, ""), context).tap do |event|
          event.raw = line
          event.body_at = 0
        end
      end
      private_class_method :cleaned

      # @return [Event] the line as it came, which says so
      def failed(line, context, error)
        Formats::Plain.read(line, context).tap { |event| event.stumbled("its reader", error) }
      end
      private_class_method :failed

      # @param name [Symbol, String]
      # @return [Module] the reader of that name
      def [](name) = BY_NAME.fetch(name.to_sym)
    end
  end
end
