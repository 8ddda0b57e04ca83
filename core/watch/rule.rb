# frozen_string_literal: true

module Northdrift
  module Watch
    # What is watched for: a condition on lines over time, and what is said when it holds.
    class Rule
      # By the name of the condition: its parts that are find texts, by role, and whether it needs them.
      CONDITIONS = {
        "count" => { "find" => [:lines, true] }.freeze, "fewer" => { "find" => [:lines, true] }.freeze,
        "sequence" => { "first" => [:first, true], "then" => [:then, true], "without" => [:without, false] }.freeze,
        "unfinished" => { "first" => [:first, true], "then" => [:then, true] }.freeze,
        "measure" => { "find" => [:lines, true] }.freeze, "entry" => {}.freeze, "unusual" => {}.freeze,
        "restart" => {}.freeze, "outside" => {}.freeze
      }.freeze
      # What else a condition has.
      OWN = {
        "entry" => ["kinds"], "fewer" => ["than"], "unfinished" => ["join"],
        "measure" => %w[of above below critical back for], **Discovery::PARTS
      }.freeze
      # What another system raises has no condition of ours.
      OUTSIDE = "outside"
      # Of these it is not said how often.
      NOT_OFTEN = %w[fewer unfinished measure unusual restart outside].freeze
      ENTRY = "kinds"
      KEYS = %w[id name severity when hours quiet attach fold why steps owner tags].freeze
      # Of these one may be enough.
      AT_ONCE = %w[count entry unusual restart outside].freeze
      # Of a condition, beside its find texts.
      SHARED = %w[at_least within by].freeze
      MOST_FIELDS = 2
      LEASTS = 1..100_000
      SECOND_US = 1_000_000
      WITHINS_US = (SECOND_US..7 * 86_400 * SECOND_US)
      # Two firings within so long are one alert, unless it is said otherwise.
      QUIET_US = 600 * SECOND_US
      MACHINE = "host.name"

      # @return [Hash{String=>Object}] as it was given
      attr_reader :definition
      # @return [String] id, name, why it matters and what to do first (Markdown)
      attr_reader :id, :name, :why, :steps
      # @return [String] the person or team whose it is; empty for nobody's
      attr_reader :owner
      # @return [Array<String>]
      attr_reader :tags
      # @return [Integer] severity code of its alerts
      attr_reader :severity
      # @return [String] the condition: a key of {CONDITIONS}
      attr_reader :kind
      # @return [Hash{Symbol=>Object}] nodes of {Find::Tree} by role
      attr_reader :parts
      # @return [Hash{Symbol=>String}] the same as find texts
      attr_reader :finds
      # @return [Array<String>] kinds of entries of the logbook, see {Logbook::Rule::KINDS}
      attr_reader :kinds
      # @return [Array<String>] fields that it is told apart by
      attr_reader :by
      # @return [Integer]
      attr_reader :least, :within_us, :quiet_us
      # @return [MeasuredLevel, nil] of a condition on a measure
      attr_reader :level
      # @return [String, nil] the field that joins the beginning of an operation and its end
      attr_reader :join
      # @return [Discovery, nil] of a condition on what is found out
      attr_reader :discovery
      # @return [String] the field with the machine that its alerts are about
      attr_reader :attach

      # @return [Boolean] whether another system raises it
      def outside? = @kind == OUTSIDE

      # @param at_us [Integer] a moment at which it holds
      # @return [Boolean] whether that is within the hours in which it is watched
      def watched?(at_us) = @hours.include?(at_us)

      # @return [Boolean] whether its alerts may be folded under others, see {Folding}
      def fold? = @definition.fetch("fold", true)

      # @param definition [Hash{String=>Object}] see docs/alert-rule.schema.json
      # @raise [Rules::Mistake] saying which part will not do
      def initialize(definition)
        @definition = definition
        stray(definition, KEYS, "a rule")
        @id = definition["id"].to_s
        @name = text("name")
        @severity = severity_of(definition.fetch("severity", "error"))
        @why = definition["why"].to_s
        @steps = definition["steps"].to_s
        @owner = definition.key?("owner") ? text("owner") : ""
        @tags = list("tags", definition["tags"])
        @hours = Rules::Hours.new(definition["hours"])
        @attach = definition.fetch("attach", MACHINE).to_s
        raise mistake("fold", "fold is true or false") unless [true, false].include?(fold?)

        take_condition(definition["when"])
        @quiet_us = definition.key?("quiet") ? duration("quiet", definition["quiet"]) : [@within_us, QUIET_US].max
        return if @quiet_us >= @within_us

        raise mistake("quiet", "quiet is as long as within, or longer: what holds within that time is one alert")
      end

      # @return [Count, Sequence, Fewer, Unfinished, Level] for one key
      def condition
        case @kind
        when "measure" then @level.condition(@within_us)
        when "unfinished" then Unfinished.new(@within_us)
        when "sequence" then Sequence.new(@least, @within_us, without: @parts.key?(:without))
        when "fewer" then Fewer.new(@least, @within_us)
        else Count.new(@least, @within_us)
        end
      end

      # @param fields [Hash{String=>Object}] of a line
      # @return [Array<String>, nil] what it is told apart by; nil where the line has not all of it
      def key(fields)
        values = @by.map { |field| fields[field] }
        values.map { |value| value.to_s[0, MOST_VALUE] } unless values.any? { |value| value.nil? || value == "" }
      end
      MOST_VALUE = 200

      # @param fields [Hash{String=>Object}] of a line
      # @return [Object, nil] what is measured of it, or what joins it with others
      def value(fields) = @level ? @level.value(fields) : (@join && fields[@join])

      # @return [Array<String>] fields of a line that {#key} and {#value} look at
      def fields = [*@by, @join, @level&.field].compact.uniq

      # @return [Integer] how far back lines matter for what comes now
      def reach_us = @level ? @level.reach_us(@within_us) : @within_us

      # @param key [Array<String>]
      # @return [String, nil] the machine that an alert is about, where its key says so
      def machine(key) = @by.index(@attach)&.then { |at| key[at] }

      # @param key [Array<String>]
      # @return [Array<Array(String, String)>] fields and values that its lines have
      def told_by(key) = @by.zip(key).select(&:last)

      # @param key [Array<String>]
      # @return [String] a find text for its lines
      def find_of(key)
        return machine(key) ? Find::Spelling.equal(MACHINE, machine(key)) : "" if outside?

        finds = @finds.except(:without).values.map { |find| "(#{find})" }
        [finds.size > 1 ? "(#{finds.join(' or ')})" : finds.first,
         *told_by(key).map { |field, value| Find::Spelling.equal(field, value) }].compact.join(" ")
      end

      # @return [String] the condition in words
      def in_words
        return "raised from outside" if outside?

        times = " at least #{@least} times" if @least > 1
        within = " within #{Rule.time(@within_us)}" if times || @kind == "sequence"
        said = case @kind
        when "count" then "#{@finds[:lines]}#{times}#{within}"
        when "fewer"
          "#{@finds[:lines]}, #{@least == 1 ? 'none' : "fewer than #{@least}"} within #{Rule.time(@within_us)}"
        when "measure" then "#{@level.in_words(@within_us)} of #{@finds[:lines]}"
        when "unusual", "restart" then @discovery.in_words
        when "unfinished"
          "#{@finds[:first]}, and no #{@finds[:then]} within #{Rule.time(@within_us)} of the same #{@join}"
        when "entry"
          "logbook: #{@kinds.map { |kind| Logbook::Rule::KINDS[kind] }.join(' or ')}#{times}#{within}"
        else
          "#{@finds[:first]}#{times}, then #{@finds[:then]}#{within}" \
          "#{", without #{@finds[:without]} between" if @finds[:without]}"
        end
        said = "#{said}, for the same #{@by.join(' and ')}" unless @by.empty?
        @hours.always? ? said : "#{said}, #{@hours.in_words}"
      end

      UNITS_US =
        { "d" => 86_400 * SECOND_US, "h" => 3600 * SECOND_US, "min" => 60 * SECOND_US, "s" => SECOND_US }.freeze

      # @return [String] such as "5 min"
      def self.time(us)
        unit, size = UNITS_US.find { |_, one| (us % one).zero? } || ["s", SECOND_US]
        "#{us / size} #{unit}"
      end

      private

      def take_condition(given)
        unless given.is_a?(Hash) && given.size == 1 && CONDITIONS.key?(given.keys.first)
          raise mistake("when", "when has one of #{CONDITIONS.keys.without(OUTSIDE).join(', ')}")
        end

        @kind, values = given.first
        raise mistake("when", "#{@kind} has parts, each with a name") unless values.is_a?(Hash)

        roles = CONDITIONS.fetch(@kind)
        shared = NOT_OFTEN.include?(@kind) ? SHARED - ["at_least"] : SHARED
        stray(values, roles.keys + shared + OWN.fetch(@kind, []), @kind)
        take_parts(roles, values)
        take_kinds(values[ENTRY]) if @kind == "entry"
        @discovery = Discovery.new(@kind, values) if Discovery::SORTS.key?(@kind)
        @level = MeasuredLevel.new(values) if @kind == "measure"
        take_join(values["join"]) if @kind == "unfinished"
        @by = list("by", values["by"])
        raise mistake("by", "it is told apart by #{MOST_FIELDS} fields at most") if @by.size > MOST_FIELDS

        often = @kind == "fewer" ? "than" : "at_least"
        @least = whole(often, values.fetch(often, 1))
        # One line is enough, or there is a time to wait for others.
        usual = "1s" if @least == 1 && AT_ONCE.include?(@kind)
        @within_us = duration("within", values.fetch("within", usual))
      end

      def take_join(given)
        @join = given.to_s.strip
        raise mistake("join", "say which field joins the beginning and the end, such as request.id") if @join.empty?
      end

      def take_kinds(given)
        @kinds = list(ENTRY, given)
        raise mistake(ENTRY, "say which kinds of entries") if @kinds.empty?

        stray = @kinds.find { |kind| !Logbook::Rule::KINDS.key?(kind) } or return
        raise mistake(
          ENTRY, "there is no kind “#{Text.display(stray)}”; there are #{Logbook::Rule::KINDS.keys.join(', ')}"
        )
      end

      def take_parts(roles, values)
        @finds = {}
        roles.each do |name, (role, needed)|
          find = values[name].to_s.strip
          raise mistake(name, "#{name}: say which lines") if find.empty? && needed

          @finds[role] = find unless find.empty?
        end
        @parts = @finds.to_h { |role, find| [role, parsed(roles.key([role, true]) || roles.key([role, false]), find)] }
      end

      def parsed(name, find)
        Find::Parser.parse(find)
      rescue Find::Mistake => error
        raise mistake(name, "#{name}: #{error.message} (column #{error.column})")
      end

      def severity_of(name)
        Severity::NAMES.index(name) or
          raise mistake("severity", "there is no severity “#{Text.display(name.to_s)}”; there are " \
                                    "#{Severity::NAMES.join(', ')}")
      end

      def duration(part, value)
        quantity = Find::Quantity.parse(value.to_s)
        us = (quantity.base * SECOND_US).round if quantity&.dimension == :time
        return us if us && WITHINS_US.cover?(us)

        raise mistake(part, "#{part} is a time from 1s to 7d, such as 5min")
      end

      def whole(part, value)
        return value if value.is_a?(Integer) && LEASTS.cover?(value)

        raise mistake(part, "#{part} is a whole number from #{LEASTS.begin} to #{LEASTS.end}")
      end

      def text(part)
        value = @definition[part].to_s.strip
        return value if value.match?(/\A[^[:cntrl:]]{1,200}\z/)

        raise mistake(part, "#{part} is one line of text, of 200 characters at most")
      end

      def list(part, value)
        value = [value] if value.is_a?(String)
        return value || [] if value.nil? || (value.is_a?(Array) && value.all?(String))

        raise mistake(part, "#{part} is a list of texts")
      end

      def stray(values, known, what)
        name = (values.keys - known).first or return
        raise mistake(name.to_s, "#{what} has no “#{Text.display(name.to_s)}”; it has #{known.join(', ')}")
      end

      def mistake(part, message) = Rules::Mistake.new(part, message)
    end
  end
end
