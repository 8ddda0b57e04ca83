# frozen_string_literal: true

require "re2"

module Northdrift
  module Store
    # Turns a find text's tree into a {Condition}: through the full-text index and the kinds where they can tell, and
    # where they cannot, through a look at the rows that they leave.
    class Planner
      # The whole record, stamp and all.
      RAW = "northdrift_raw(#{Functions::HEAD}, #{Functions::BODY}, events.id, events.shift)".freeze
      # What tells a row's values.
      ROW = "#{Functions::BODY}, #{Functions::EXTRA}, events.spans".freeze
      ASCII_WORD = /\A[\x01-\x7F]+\z/
      # Longer patterns LIKE refuses (SQLite's limit is 50,000 bytes).
      LIKE_LIMIT = 10_000

      # @param kinds [Kinds]
      # @param sources [#call] gives names of sources by id
      def initialize(kinds, sources: -> { Source.pluck(:id, :name).to_h })
        @kinds = kinds
        @sources = sources
      end

      # @param node [Object] of {Find::Tree}
      # @return [Condition]
      def plan(node)
        case node
        when Find::Tree::Everything then Condition::EVERYTHING
        when Find::Tree::All then joined(node.children.map { |child| plan(child) }, :&)
        when Find::Tree::Any then joined(node.children.map { |child| plan(child) }, :|)
        when Find::Tree::Not then plan(node.child).negated(@kinds.map(&:id))
        when Find::Tree::Severities then Condition.new(severities: node.codes)
        when Find::Tree::Has then has(node.field)
        when Find::Tree::Compare then compare(node)
        when Find::Tree::Matches then matches(node)
        else textual(node)
        end
      end

      private

      # In pairs, and these in pairs: SQLite and FTS5 take expressions that are a hundred deep, and people paste lists
      # of hundreds of words.
      def joined(conditions, by)
        conditions = conditions.each_slice(2).map { |pair| pair.reduce(by) } while conditions.size > 1
        conditions.first
      end

      # Text is looked for in the record and in the names of machine and service; the latter are the kinds'.
      def textual(node)
        matcher = Find::Matcher.new(node)
        named =
          @kinds.names.select { |name, _| matcher.match?(Find::Matcher::Subject.new(nil, name)) }.values.flatten.to_set
        text = in_text(node)
        named.empty? ? text : text | Condition.new(kinds: named)
      end

      def in_text(node)
        case node
        when Find::Tree::Word then standing(node.text)
        when Find::Tree::Phrase then phrase(Find::Words.tokens(node.text))
        when Find::Tree::Prefix then prefix(node.text)
        when Find::Tree::Contains then contains(node.text)
        when Find::Tree::Glob then glob(node.text)
        end
      end

      def standing(text)
        tokens = Find::Words.tokens(text)
        return phrase(tokens) if Find::Words.plain?(text)

        narrowed = tokens.empty? ? Condition::EVERYTHING : phrase(tokens)
        narrowed & text_matches(Find::Words.standing(text))
      end

      def phrase(tokens) = tokens.empty? ? Condition::EVERYTHING : Condition.new(match: "\"#{tokens.join(' ')}\"")

      def prefix(text)
        tokens = Find::Words.tokens(text)
        narrowed = Condition.new(match: "\"#{tokens.join(' ')}\" *")
        Find::Words.plain?(text) ? narrowed : narrowed & text_matches(Find::Globs.pattern("#{text}*"))
      end

      def contains(text)
        like?(text) ? holding(text) : text_matches("(?is)#{RE2::Regexp.escape(text)}")
      end

      def like?(text) = text.match?(ASCII_WORD) && text.bytesize <= LIKE_LIMIT

      # Lines that hold a text, whatever the case of its ASCII letters. LIKE takes a third of the time of a search in
      # the lowered text; it does not look behind a NUL.
      def holding(text)
        like = "%#{text.gsub(/[\\%_]/) { |special| "\\#{special}" }}%"
        sql = "events.body LIKE ? ESCAPE '\\' OR events.extra LIKE ? ESCAPE '\\'"
        binds = [like, like]
        nul = @kinds.select { |kind| kind.traits["nul"] }.map(&:id)
        unless nul.empty?
          sql =
            "#{sql} OR (events.kind_id IN (#{nul.join(',')}) AND instr(lower(events.body || coalesce(events.extra, " \
            "'')), ?) > 0)"
          binds << text.downcase
        end
        Condition.new(sql: sql, binds: binds)
      end

      def glob(text)
        whole = text.split("*", -1).flat_map { |part| Find::Literals.whole_tokens(part) }
        narrowed =
          if whole.empty?
            Condition::EVERYTHING
          else
            Condition.new(match: whole.map { |token| "\"#{token}\"" }.join(" AND "))
          end
        narrowed & text_matches(Find::Globs.pattern(text))
      end

      def text_matches(pattern)
        Condition.new(
          sql:
            "northdrift_matches(?, #{Functions::BODY}) OR (events.extra IS NOT NULL AND northdrift_matches(?, #{Functions::EXTRA}))",
          binds: [pattern, pattern]
        )
      end

      def matches(node)
        case node.field
        when "text" then whole_text(node.pattern)
        when "message"
          narrowed(node.pattern) & Condition.new(sql: "northdrift_message_matches(?, #{ROW})", binds: [node.pattern])
        when "severity"
          test = RE2::Regexp.new(node.pattern)
          Condition.new(severities: (0..8).select { |code| test.match?(Severity.name(code)) })
        else
          test = RE2::Regexp.new(node.pattern)
          with_field(node.field, ->(value) { test.match?(value.to_s) }, narrowed(node.pattern))
        end
      end

      # The whole record has its stamp too, which the index has not.
      def whole_text(pattern)
        Find::Literals.required(pattern).map { |text| Condition.new(sql: "instr(#{RAW}, ?) > 0", binds: [text]) }
          .push(Condition.new(sql: "northdrift_matches(?, #{RAW})", binds: [pattern])).reduce(:&)
      end

      # What of a regular expression the index can find, the tokens that every match holds, and what a plain search can.
      def narrowed(pattern)
        Find::Literals.required(pattern).map do |text|
          tokens = Find::Literals.tokens(text)
          indexed = tokens.empty? ? Condition::EVERYTHING : Condition.new(match: full_text(tokens))
          like?(text) ? indexed & holding(text) : indexed
        end.reduce(Condition::EVERYTHING, :&)
      end

      # @param tokens [Array<String>] the last may end with "*"
      def full_text(tokens)
        open = tokens.last.end_with?("*")
        "\"#{tokens.join(' ').delete_suffix('*')}\"#{' *' if open}"
      end

      # The index finds a pattern's fixed words; the row tells whether it is the pattern itself.
      def of_pattern(id)
        templates = KnownPatterns.current.templates(id)
        return Condition.new(kinds: Set[]) if templates.empty?

        words = KnownPatterns.current.words(id)
        Condition.new(
          match: words.empty? ? nil : words.map { |word| "\"#{word}\"" }.join(" AND "),
          sql: "events.template_id IN (#{templates.join(',')})"
        )
      end

      def has(field)
        case field
        when "severity" then Condition.new(severities: [*0..Severity::DEBUG])
        when "message", "text" then Condition.new(sql: "northdrift_message_matches(?, #{ROW})", binds: ["."])
        when "source", "pattern" then Condition::EVERYTHING
        else
          known = kinds { |kind| kind.field?(field) }
          loose = kinds { |kind| kind.index(Packer::LOOSE) && !kind.field?(field) }
          loose.kinds.empty? ? known : known | (loose & field_test(field, ->(_) { true }))
        end
      end

      def compare(node)
        test = Find::Values.test(node.field, node.operator, node.value)
        case node.field
        when "message"
          Condition.new(sql: "northdrift_field(?, events.kind_id, #{ROW})", binds: [functions.register(:message, test)])
        when "text"
          Condition.new(sql: "northdrift_test(?, #{RAW})", binds: [functions.register(:text, test)])
        when "pattern"
          of_pattern(KnownPatterns.id(node.value))
        when "source"
          ids = @sources.call.select { |_, name| test.call(name) || test.call(File.basename(name)) }.keys
          Condition.new(sql: "events.source_id IN (#{ids.join(',')})")
        else
          with_field(node.field, test, equal_words(node))
        end
      end

      # An equal number may be written otherwise (2500 as 2.5e3), and an open place or a network stands for many texts.
      def verbatim?(value)
        !value.include?("*") && !Find::Values::NETWORK.match?(value) && Find::Quantity.parse(value).nil?
      end

      # Kinds for which the field is the same in all their lines, and those lines of other kinds that have it and fit.
      def with_field(field, test, narrowed)
        constant =
          kinds do |kind|
            kind.index(field).nil? && !kind.constants[field].nil? && Find::Values.fits?(test, kind.constants[field])
          end
        varying = kinds { |kind| kind.index(field) || kind.index(Packer::LOOSE) }
        return constant if varying.kinds.empty?

        looked_at = varying & narrowed & field_test(field, test)
        constant.kinds.empty? ? looked_at : constant | looked_at
      end

      def field_test(field, test)
        Condition.new(sql: "northdrift_field(?, events.kind_id, #{ROW})", binds: [functions.register(field, test)])
      end

      # The words of a value stand in the index, whichever way the record writes it.
      def equal_words(node)
        return Condition::EVERYTHING unless node.operator == :exactly || (node.operator == :== && verbatim?(node.value))

        tokens = Find::Words.tokens(node.value)
        return Condition::EVERYTHING if tokens.empty?

        # Inner tokens stand whole; the outer ones may go on in the text around the value.
        Condition.new(match: tokens.map { |token| "\"#{token}\"" }.join(" AND "))
      end

      def kinds(&) = Condition.new(kinds: @kinds.select(&).to_set(&:id))

      def functions = Functions.current(@kinds)
    end
  end
end
