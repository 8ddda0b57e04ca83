# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # Writes what was read, with all that is noted of it, in one transaction.
      class Keeper
        # One group on its way into the database, see {Store::Writer#write}.
        Part = Struct.new(:result, :packer, :fresh_kinds, :fresh_templates, :source, :first_line) do
          def batch = result.batch
          def source_id = source.id

          def leave_out(indexes) = result.batch = batch.without(indexes)

          # Called within the transaction that writes its rows.
          def settle(ids)
            group = result.group
            source.add(
              lines: result.lines, events: batch.size, unread: result.unread, repeated: result.repeated,
              readers: result.readers
            )
            source.bytes = group.place ? group.place.to : source.bytes + batch.bytes
            if group.place
              source.assign_attributes(
                digest: group.place.digest, fingerprint: group.place.fingerprint, identity: group.place.identity
              )
            end
            source.save!
            note(group)
            Store::RelayQueue.add(ids)
            Store::WatchQueue.add(ids, batch.watched, result.watched_by)
          end

          def crowd(stream)
            Store::Feed.where(id: stream.feed_id).update_all(
              problem: "#{stream.place || stream.name} named more than #{stream.machines || MachineLimit::MOST} " \
                       "machines within an hour; lines of others are filed under “#{MachineLimit.rest(stream)}”"
            )
          end

          def note(group)
            Store::Arrivals.add(
              source.id, group.received_us,
              lines: batch.size, bytes: batch.bytes, unread: result.unread, timed: result.timed, lag_us: result.lag_us
            )
            Store::IntakeRules.note(result.turned_away)
            crowd(group.stream) if result.crowded.positive?
            Store::Arrivals.note_delivery(group.delivery, result.lines, group.received_us) if group.delivery
          end
        end

        def initialize
          @sieve = Store::Sieve.new(Store::Writer.new)
          Store::Past.start_with(Store::LogbookSwitch.catalogue)
          @sources = {}
        end

        # @param all [Array<Collector::Ready>]
        def write(all)
          @sieve.write do
            @sources.clear if @begun # what they say was not committed
            @begun = true
            @lines = {}
            delivered = Set.new
            all.flat_map { |one| parts(one.read, one.numbering, delivered) }
          end
          @begun = false
        rescue StandardError
          @sources.clear # what they say was not committed
          raise
        end

        private

        def parts(read, packer, delivered)
          read.results.each_with_index.map do |result, index|
            result = result.emptied if known?(result.group, delivered)
            delivered << result.group.delivery if result.group.delivery
            # What is new to the numbers of the process goes with its first group.
            part =
              Part.new(
                result, packer, *(index.zero? ? [read.fresh_kinds, read.fresh_templates] : [[], []]),
                source(result.group.stream)
              )
            part.first_line = @lines[part.source_id] || part.source.lines
            @lines[part.source_id] = part.first_line + result.lines
            part
          end
        end

        # A delivery that was committed, whose sender did not hear of it.
        def known?(group, delivered)
          !group.delivery.nil? &&
            (delivered.include?(group.delivery) || !Store::Arrivals.delivered(group.delivery).nil?)
        end

        def source(stream)
          @sources[stream.number] ||= existing(stream) || new_source(stream)
        end

        def new_source(stream)
          Store::Source.create!(
            feed_id: stream.feed_id, name: stream.name, machine: stream.machine, zone: stream.zone,
            fingerprint: stream.fingerprint, reference_us: now_us, created_us: now_us
          )
        end

        # A file that was read before, or a sender that came before.
        def existing(stream)
          if stream.source_id
            return Store::Source.find_by(id: stream.source_id)&.tap { |source| source.update!(feed_id: stream.feed_id) }
          end
          return unless stream.fingerprint.empty?

          Store::Source.where(feed_id: stream.feed_id, name: stream.name, fingerprint: "").first
        end

        def now_us = Store::Clock.now_us
      end
    end
  end
end
