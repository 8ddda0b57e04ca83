# frozen_string_literal: true

module Northdrift
  module Intake
    module Live
      # What the ways in have in common: numbers of streams, and what is told of feeds to people.
      class Office
        # Counts are written down so often at most.
        NOTE_SECONDS = 2
        # Files that the system lets this process open and that are not for following: connections and the database need
        # some.
        RESERVE = 200

        # @param dir [String] data folder
        def initialize(dir)
          @dir = dir
          @lock = Mutex.new
          @numbers = 0
          @problems = {}
          @counts = Hash.new(0)
          @files = 0
          @module_files = ModuleFiles.new(dir)
        end

        # @return [Reading::Mib] names of what devices report
        def mib = @module_files.mib

        # @return [Integer] files that may be followed at once
        def most_files = @most_files ||= [Process.getrlimit(Process::RLIMIT_NOFILE).first - RESERVE, RESERVE / 4].max

        # @return [Boolean] whether one more file may be open; it is counted then
        def take_file = @lock.synchronize { @files < most_files && (@files += 1) && true }

        # @param number [Integer] of files that are closed
        def give_files_back(number = 1) = @lock.synchronize { @files -= number }

        # @return [Array] certificate of this collector, and its key
        def certificate = @lock.synchronize { @certificate ||= Certificate.load(@dir) }

        # @return [Stream] a new one
        def stream(feed, name:, machine:, zone:, place: nil, source_id: nil, fingerprint: "")
          number = @lock.synchronize { @numbers += 1 }
          Stream.new(
            number: number, feed_id: feed.id, name: name, machine: machine, place: place, zone: zone,
            source_id: source_id, fingerprint: fingerprint, machines: feed.given["machines"]
          )
        end

        # @return [HttpServer] that of an address, started when it is first asked for
        # @raise [SystemCallError] when it cannot listen there
        def http_server(address, port)
          @lock.synchronize { (@http ||= {})[[address, port]] ||= HttpServer.new(address, port) }
        end

        # Says what stands in a feed's way, or that nothing does any more.
        # @param text [String, nil]
        def problem(feed, text)
          @lock.synchronize do
            return if @problems.key?(feed.id) && @problems[feed.id] == text

            @problems[feed.id] = text
          end
          Store::Feed.where(id: feed.id).update_all(problem: text && Text.display(text))
        rescue ActiveRecord::StatementInvalid
          @lock.synchronize { @problems.delete(feed.id) } # told the next time
        end

        # @param what [Symbol] :lost, what the system threw away, or :refused, what was not taken
        def count(feed, what, number = 1) = @lock.synchronize { @counts[[feed.id, what]] += number }

        # Writes down what was counted since the last time.
        def note
          counts = @lock.synchronize { @counts.tap { @counts = Hash.new(0) } }
          counts.each { |(id, what), number| Store::Feed.where(id: id).update_all(["#{what} = #{what} + ?", number]) }
        rescue ActiveRecord::StatementInvalid
          @lock.synchronize { counts.each { |key, number| @counts[key] += number } }
        end
      end
    end
  end
end
