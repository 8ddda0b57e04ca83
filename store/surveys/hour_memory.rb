# frozen_string_literal: true

module Northdrift
  module Store
    # How many lines there were in whole hours, kept by this process while nothing has changed in them: who asks the
    # same again for a later time has only what is new looked at. An hour has changed when it has more or fewer lines
    # than before; lines that are read anew, other sources, and what is said of the machines make all of it old.
    #
    # Who may not see everything has nothing kept: their own counts take as long as the lines.
    class HourMemory
      # Questions, those that were asked last; and groups of all their hours together.
      MOST = 60
      MOST_GROUPS = 400_000
      LOOK = :northdrift_look_at_hours
      private_constant :LOOK

      # @!attribute print [Array] see {#prints}
      # @!attribute groups [Hash{Array=>Integer}] lines by values of fields
      Hour = Struct.new(:print, :groups)

      # @return [HourMemory] of the open database
      def self.current = @current ||= new

      # Within the block, hours are looked at once: what comes in meanwhile is seen the next time.
      def self.one_look
        before = Thread.current[LOOK]
        Thread.current[LOOK] = {}
        yield
      ensure
        Thread.current[LOOK] = before
      end

      # To be said when another database is opened.
      def self.forget = @current = nil

      def initialize
        @questions = {}
        @lock = Mutex.new
      end

      # @param key [Object] the question without its window, and what its lines are counted by
      # @param hours [Range<Integer>] since 1970, without its end
      # @yieldparam first [Integer] hour
      # @yieldparam stop [Integer] the hour behind the last
      # @yieldreturn [Hash{Integer=>Hash{Array=>Integer}}] lines by hour and values of fields
      # @return [Hash{Integer=>Hash{Array=>Integer}}] of all hours; not to be changed
      def recall(key, hours)
        look = Thread.current[LOOK] || {}
        prints = look[hours] ||= prints(hours)
        kept = known(key).dup
        stale = hours.reject { |hour| kept[hour]&.print == prints[hour] && kept.key?(hour) }
        stale.slice_when { |one, other| other > one + 1 }.each do |run|
          fresh = yield run.first, run.last + 1
          run.each { |hour| kept[hour] = Hour.new(prints[hour], fresh.fetch(hour, {})) }
        end
        keep(key, kept.slice(*hours))
        hours.to_h { |hour| [hour, kept[hour].groups] }
      end

      private

      # @return [Hash{Integer=>Hour}]
      def known(key)
        generation = generation()
        @lock.synchronize do
          @questions.clear unless @generation == generation
          @generation = generation
          @questions.fetch(key, {})
        end
      end

      def keep(key, hours)
        @lock.synchronize do
          @questions.delete(key)
          @questions[key] = hours
          groups = @questions.values.sum { |all| all.each_value.sum { |hour| hour.groups.size } }
          while @questions.size > 1 && (@questions.size > MOST || groups > MOST_GROUPS)
            _, oldest = @questions.shift
            groups -= oldest.each_value.sum { |hour| hour.groups.size }
          end
        end
      end

      # @return [Array] what lines are read, found and named by beside themselves
      def generation
        [
          Database.path, Fleet.current.object_id,
          *Database.rows("SELECT count(*), max(id) FROM sources").first,
          *Database.rows("SELECT max(id), total(looked_at) FROM rereads").first
        ]
      end

      # Lines by severity, by hour: nothing where there are none.
      def prints(hours)
        minutes = Rollup::HOUR / Rollup::MINUTE
        # SQL's division rounds towards nought.
        hour = "(minute - (minute % #{minutes} + #{minutes}) % #{minutes}) / #{minutes}"
        rows = Database.rows(
          "SELECT #{hour}, severity, sum(n) FROM minute_counts WHERE minute >= ? AND minute < ? GROUP BY 1, 2",
          [hours.begin * minutes, hours.end * minutes]
        )
        rows.each_with_object({}) { |(hour, severity, n), all| (all[hour] ||= []).push(severity, n) }
      end
    end
  end
end
