# frozen_string_literal: true

module Northdrift
  module Store
    # Applies a parser to what is stored, a batch at a time, so that others can write between; what was interrupted goes
    # on where it was. Lines gain fields, machine and service: where a value stands in the text is noted, and the text
    # itself stays. Time, severity and message are part of where a line is kept; those a parser tells for what comes in
    # alone.
    class Rereading
      BATCH = 2000
      NAMED = "id IN (SELECT value FROM json_each(?))"

      # @param reread [Reread]
      def initialize(reread)
        @reread = reread
      end

      # Looks at all that there is when it comes to the end.
      # @return [void]
      def run
        return unless Reread.where(id: @reread.id, state: %w[waiting running]).update_all(state: "running").positive?

        @parser = @reread.parser
        question = @reread.question
        @reread.update!(total: question.total) if @reread.last_id.nil?
        nil while going_on?("running") && batch(question.page(after: @reread.last_id, limit: BATCH))
        finish("running", "done")
      rescue Error, ActiveRecord::ActiveRecordError, SQLite3::Exception => error
        @reread.update!(state: "failed", problem: error.message.lines.first.to_s.strip, ended_us: now_us)
      end

      # Gives the lines back what they had.
      # @return [void]
      def undo
        Functions.current(Kinds.current)
        nil while going_on?("undoing") && take_back
        finish("undoing", "undone")
      end

      private

      # People may have stopped it meanwhile.
      def going_on?(state) = Reread.where(id: @reread.id, state: state).exists?

      def finish(from, to) = Reread.where(id: @reread.id, state: from).update_all(state: to, ended_us: now_us)

      # @return [Boolean] whether there may be more
      def batch(page)
        return false if page.events.empty?

        found = page.events.filter_map { |event| changed(event) }
        Database.step do
          changes = there(found)
          @reread.update!(
            last_id: page.events.map(&:id).max, looked_at: @reread.looked_at + page.events.size,
            altered: @reread.altered + changes.size
          )
          apply(changes)
        end
        page.more_after
      end

      # Meanwhile a line may have been taken out, and another one have come into its place.
      # @param changes [Array<Array>] see {#changed}
      # @return [Array<Array>] those of lines that are still as they were
      def there(changes)
        now = StoredEvent.all(changes.map { |event,| event.id }).to_h { |event| [event.id, event] }
        changes.select do |event,|
          same = now[event.id]
          same && same.kind.id == event.kind.id && same.spans == event.spans && same.raw == event.raw
        end
      end

      # @return [Array, nil] the event, the definition of its new kind, and its spans
      def changed(event)
        kind = event.kind
        return if kind.field?(Rules::Parser::FIELD) || kind.field?(Packer::LOOSE)

        texts = @parser.taken(event) or return
        values = @parser.typed(texts)
        layout, places = placed(event, texts, values)
        traits =
          kind.traits.merge("constants" => (kind.traits["constants"] || {}).merge(Rules::Parser::FIELD => @parser.name))
        definition = [
          told(values, "machine") || event.machine, told(values, "service") || event.service, kind.reader,
          kind.layout + layout, traits
        ]
        [event, definition, event.spans + Spans.pack(places)]
      end

      def told(values, type) = values.find { |group, value| @parser.types[group] == type && value }&.last

      # What a group took is part of the message, which is in the text or beside it.
      def placed(event, texts, values)
        texts.each_with_object([[], []]) do |(group, text), (layout, places)|
          name = @parser.fields[group]
          next if name.nil? || values[group].nil? || event.kind.field?(name) || layout.assoc(name)

          place = event.place_of(text) or next
          layout << [name, type(values[group])]
          places.push(*place)
        end
      end

      def type(value)
        case value
        when Integer then "i"
        when Float then "f"
        else "s"
        end
      end

      def apply(changes)
        return if changes.empty?

        counted_anew(changes.map { |event,| event.id }) do
          changes.each do |event, kind, spans|
            Database.rows(
              "INSERT OR IGNORE INTO reread_events VALUES (?, ?, ?, ?)",
              [@reread.id, event.id, event.kind.id, event.spans]
            )
            Database.rows(
              "UPDATE events SET kind_id = ?, spans = ? WHERE id = ?", [Kinds.intern(*kind), spans, event.id]
            )
          end
        end
      end

      # Counts go by kind, and the index has a mark of it.
      def counted_anew(ids)
        named = [NAMED, [Oj.dump(ids, mode: :strict)]]
        FullText.delete(*named)
        Rollup.subtract(*named)
        yield named.last
        Rollup.add(*named)
        Appearances.add(*named)
        FullText.refill(*named)
      end

      def take_back
        ids =
          Database.rows("SELECT event_id FROM reread_events WHERE reread_id = ? LIMIT #{BATCH}", [@reread.id]).flatten
        return false if ids.empty?

        Database.step do
          counted_anew(ids) do |list|
            Database.rows(<<~SQL, [@reread.id, *list])
              UPDATE events SET kind_id = before.kind_id, spans = before.spans FROM reread_events AS before
              WHERE before.reread_id = ? AND before.event_id = events.id AND events.#{NAMED}
            SQL
            Database.rows("DELETE FROM reread_events WHERE reread_id = ? AND event_#{NAMED}", [@reread.id, *list])
          end
          @reread.update!(altered: @reread.altered - ids.size)
        end
        true
      end

      def now_us = Clock.now_us
    end
  end
end
