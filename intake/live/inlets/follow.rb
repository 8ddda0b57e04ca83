# frozen_string_literal: true

require "rb-inotify"

module Northdrift
  module Intake
    module Live
      module Inlets
        # Follows files: those that paths with patterns name, as they come, grow, are renamed, cut short and packed.
        # What was read of a file is known by its content, so that nothing is read twice whatever it is called now.
        class Follow < Inlet
          LOOK_SECONDS = 1
          # A file that changed so lately may be a copy under way.
          COPYING_SECONDS = 3
          # A file that has lost its name is read to its end, and let go after so long without anything new.
          LET_GO_SECONDS = 5
          # So long it is waited for what was read to be in the database; where that takes longer, it is tried again.
          SETTLE_SECONDS = 2
          # Where more files are to be followed than may be open at once, one that has been quiet for so long makes room
          # until it grows.
          IDLE_SECONDS = 30
          EVENTS = %i[create moved_to modify close_write].freeze

          private

          def run
            @tails = {}
            @seen = {}
            @notifier = INotify::Notifier.new
            until @stopping
              problem = look
              @office.problem(@feed, problem)
              @settled = false # what is read from here on is not yet in the database
              next if @tails.values.map(&:read).any?

              wait
            end
          ensure
            @tails.each_value(&:close)
            @office.give_files_back(@tails.size)
            @notifier&.close
            # Files go on where the database says: nothing of them may be on its way when they are opened again.
            @funnel.settle(STOP_SECONDS - 1)
          end

          def close = nil

          # News of a folder cuts the wait short.
          def wait
            folders.each { |folder| (@watched ||= {})[folder] ||= @notifier.watch(folder, *EVENTS) { nil } }
            io = @notifier.to_io
            # A tail that waits for quiet wants to be asked again soon.
            if io.wait_readable(RecordBuffer::QUIET_SECONDS)
              @notifier.process
              sleep 0.05
            end
          rescue SystemCallError
            @watched = {}
            sleep LOOK_SECONDS
          end

          def folders
            globs
              .flat_map { |glob| Dir.glob(File.dirname(glob)) }
              .select { |path| File.directory?(path) }
              .uniq
              .first(MOST_STREAMS)
          end

          def globs = @given["paths"].to_s.split("\n").map(&:strip).reject(&:empty?)

          # @return [String, nil] what stands in the way
          def look
            paths = globs.flat_map { |glob| Dir.glob(glob) }.uniq.select { |path| within?(path) }
            let_go(paths)
            problems = paths.filter_map { |path| look_at(path) }
            return "nothing is there yet under #{globs.join(', ')}" if paths.empty?

            problems.first && "#{problems.first}#{" (and #{problems.size - 1} more)" if problems.size > 1}"
          end

          # Where it was set up on the pages, no link leads out of the folders that are allowed.
          # @param path [String] of a file, or of an open one below /proc
          def within?(path)
            return true unless @given["within"]

            real = File.realpath(path)
            @given["within"].any? { |folder| real.start_with?("#{File.realpath(folder).chomp('/')}/") }
          rescue SystemCallError
            false # it has gone, or leads nowhere
          end

          # Files without a name here are read to their end; those that were cut begin anew.
          def let_go(paths)
            names = paths.to_h { |path| [identity(path), path] }
            @tails.each do |identity, tail|
              tail.path = names[identity] || tail.path
              if tail.cut? then drop(identity, &:abandon)
              elsif !names.key?(identity) && tail.quiet?(LET_GO_SECONDS) then drop(identity, &:finish)
              end
            end
          end

          def drop(identity)
            yield @tails.delete(identity)
            @office.give_files_back
            @seen.delete(identity)
          end

          # @return [Boolean] whether one more file may be open now
          def room? = @office.take_file || (make_room && @office.take_file)

          def make_room
            identity, tail = @tails.select { |_, one| one.quiet?(IDLE_SECONDS) }.max_by { |_, one| one.quiet }
            return false unless tail

            size = tail.size
            drop(identity, &:finish)
            @seen[identity] = size
            true
          end

          def identity(path)
            FollowedFile.identity(File.stat(path))
          rescue SystemCallError
            nil
          end

          # @return [String, nil] what stands in its way
          def look_at(path)
            stat = File.stat(path)
            identity = FollowedFile.identity(stat)
            return if @tails.key?(identity) || !stat.file? || stat.zero? || @seen[identity] == stat.size

            open(path, identity, stat)
          rescue SystemCallError => error
            "#{path}: #{error.message.sub(/ @ .*/, '')}"
          end

          def open(path, identity, stat)
            file = File.new(path, "rb") # as long as it is followed
            # It may have been renamed since it was looked at.
            unless FollowedFile.identity(file.stat) == identity && within?("/proc/self/fd/#{file.fileno}")
              return file.close
            end

            head = file.read(Magic::PROBE).to_s
            packed = Magic.container(head)
            problem = Magic.not_text(head)
            return follow(file, path, identity, head) unless packed || problem

            file.close
            @seen[identity] = stat.size
            # What is packed does not grow: it is read once, like an upload.
            packed ? hand_over(path, stat) : "#{path}: #{problem}"
          end

          def follow(file, path, identity, head)
            name = Text.display(path)
            return file.close if copied?(file, head, name) || !settled?

            known, digest = known(file, head, name, identity)
            return pass_over(file, identity) if known.nil? && start_of_another?(file, name)
            return wait_for_room(file, name) unless room?

            machine = machine(name)
            stream =
              @office.stream(
                @feed,
                name: name, machine: machine, zone: @given["zone"] || "UTC", source_id: known&.id,
                fingerprint: Known.fingerprint(head)
              )
            context = Reading::Context.new(clock: Reading::Clock.new(reference_us: Store::Clock.now_us))
            @tails[identity] = FollowedFile.new(
              file, path, stream, known: known, digest: digest, context: context, funnel: @funnel
            )
            nil
          end

          # @return [String] of lines that name none: this computer, a name, or what the first * of the path stands for
          def machine(name)
            given = @given["machine"].to_s
            return Socket.gethostname if given.empty?
            return given unless given == FeedForm::FROM_PATH

            glob = globs.find { |one| one.include?("*") && File.fnmatch?(one, name) }
            start, rest = glob.to_s.split("*", 2)
            if rest
              name.delete_prefix(start)[%r{\A[^/]*?(?=#{Regexp.escape(rest[%r{\A[^*?/\[]*/?}])})}] || Socket.gethostname
            else
              Socket.gethostname
            end
          end

          # @return [Array(Known::Entry, OpenSSL::Digest)] what of the file has been read, and the digest of that
          def known(file, head, name, identity)
            candidates =
              Known
                .load
                .candidates(head.byteslice(0, Known::HEAD), name, machine(name), identity: identity)
                .reject { |entry| another?(entry, name) }
            candidates.each do |entry|
              next if entry.bytes > file.size || (entry.whole && entry.bytes < file.size)

              digest = digest(file, entry.bytes)
              return [entry, digest] if digest.dup.hexdigest == entry.digest
            end
            [nil, OpenSSL::Digest.new("SHA256")]
          end

          # Files that start alike are not one for that: what is followed under a name of its own is itself.
          def another?(entry, name)
            return false if copy?(name, entry.name)

            tail = @tails.each_value.find { |one| Text.display(one.path) == entry.name }
            !tail.nil? && !tail.cut?
          end

          # What is known of a file is asked of the database: it may be the copy of another whose last lines are on
          # their way there.
          # @return [Boolean] whether all that was read is in it
          def settled? = @settled ||= !@funnel.settle(SETTLE_SECONDS).nil?

          # @return [Boolean] whether it may be a copy that is still written, as rotation makes one before it cuts a
          #   large file
          def copied?(file, head, name)
            Time.now - file.mtime < COPYING_SECONDS &&
              @tails.each_value.any? { |tail| copy?(name, Text.display(tail.path)) && tail.as_long?(head, file.size) }
          end

          def copy?(name, other) = Known.copy?(name, other)

          # All of it is there already. It is looked at again when it grows.
          def pass_over(file, identity)
            @seen[identity] = file.size
            file.close
          end

          # @return [String] what stands in its way
          def wait_for_room(file, name)
            file.close
            "#{name}: waits, since no more than #{@office.most_files} files may be open at once here (ulimit -n)"
          end

          # A copy has less than was read of its original, when more came between its being made and the original's
          # being cut.
          def start_of_another?(file, name)
            Store::Source
              .where(machine: machine(name), bytes: (file.size + 1)..)
              .order(id: :desc)
              .select { |source| copy?(name, source.name) }
              .any? { |source| starts_with?(source, file) }
          end

          # @return [Boolean] whether what is stored of a source starts with all that a file has
          def starts_with?(source, file)
            file.rewind
            Store::SourceText.new(source).each do |bytes|
              there = file.read(bytes.bytesize).to_s
              return false unless bytes.start_with?(there)
              return true if file.eof?
            end
            false
          end

          def digest(file, bytes)
            file.rewind
            OpenSSL::Digest.new("SHA256").tap do |digest|
              while bytes.positive?
                chunk = file.read([bytes, FollowedFile::CHUNK].min) or break
                digest << chunk
                bytes -= chunk.bytesize
              end
            end
          end

          def hand_over(path, stat)
            shown = Text.display(path)
            name = "#{shown} (#{stat.mtime.to_i})"
            return if Store::Import.exists?(name: name, bytes: stat.size)

            Store::Import.create!(name: name, path: path, zone: @given["zone"] || "UTC", machine: machine(shown),
                                  bytes: stat.size, created_us: Store::Clock.now_us)
            nil
          end
        end
      end
    end
  end
end
