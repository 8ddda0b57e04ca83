# frozen_string_literal: true

module Northdrift
  module Reading
    # Bytes in, events out: cuts lines, has each read, and joins those that are one record. A record goes on with a line
    # that is indented, empty or part of a stack trace, and, when it has a time, with any line that has none. The raw
    # texts and endings of the events, one after another, are the input.
    class Records
      # A joined record holds at most so many bytes; what is longer comes as several events that say so.
      LIMIT = 1 << 20
      # A record that never comes to its end must not swallow the rest.
      UNFINISHED_LIMIT = 1 << 16
      SPLIT = "longer than 1 MiB: split here"
      GOES_ON = "continues the record before it, which was longer than 1 MiB"
      XML_FIRST = "<".ord
      XML_SECOND = "?Er".bytes.freeze
      BLANK = " ".ord
      INDENTATION = /\A {1,8}(?=\S)/
      LINE_FEED = "\n".ord
      # A run of empty lines belongs to no record's message, though it stands with its text.
      BLANK_END = /(?:\r?\n)+\z/
      XML = /\A\s*<(?:\?xml\s|Events[\s>]|Event[\s>]|record>)/
      DATES = %i[iso bsd].freeze
      # Elements that are one record each.
      XML_FINISH = %r{#{Regexp.union(Formats::WindowsEvent::FINISH, Formats::JavaXml::FINISH)}}
      LONGEST_FINISH = [Formats::WindowsEvent, Formats::JavaXml].map { |reader| reader::FINISH.bytesize }.max

      # @param context [Context]
      # @param lines [Lines]
      # @yieldparam event [Event]
      def initialize(context, lines: Lines.new, &sink)
        @context = context
        @lines = lines
        @sink = sink
        @open = nil
        @xml = nil
        @entry = nil
        @json = nil
        @listing = nil
        @unfinished = nil
        @grown = false
        @continuation = Continuation.new(context)
      end

      # @param chunk [String] the next bytes, binary
      def push(chunk)
        @lines.push(chunk) { |text, ending, number, offset, inside| line(text, ending, number, offset, inside) }
      end

      # Says that no more bytes come.
      def finish
        @lines.finish { |text, ending, number, offset, inside| line(text, ending, number, offset, inside) }
        close_xml
        close_entry
        close_json
        close_listing
        close
      end

      # @return [Integer] bytes of the source that are in events already handed out
      def settled = (@open || pending)&.offset || @lines.offset

      # @return [Integer] physical lines of the source that are in events already handed out
      def settled_lines
        if @open
          @open.line_number - 1
        else
          pending ? pending.number - 1 : @lines.number
        end
      end

      private

      Pending = Struct.new(:text, :number, :offset)
      # The same of objects in one JSON text.
      Objects = Struct.new(:cutter, :number, :offset) do
        def text = cutter.rest
      end

      # @return [Pending, Objects, nil] a record that is not whole yet
      def pending = @xml || @entry || @json || @listing

      def line(text, ending, number, offset, inside)
        return piece(text, ending, number, offset) if inside && !pending
        return resume(text, ending, number, offset) if @unfinished

        first(text) if offset.zero? && !inside
        return json(text, ending) if @json
        return xml(text, ending, number, offset) if @xml || xml?(text)
        return listing(text, ending, number, offset) if @listing || Formats::Listing.begins(text)
        return entry(text, ending, number, offset) if @entry || text.start_with?(Formats::JournalExport::START)

        first = text.getbyte(0)
        return indented(text, ending, number, offset) if @open && (first.nil? || first == 32 || first == 9)

        event = Catalogue.read(text, @context)
        event = columns(event, text) if number <= Header::SEARCHED && event.reader == :plain && !@context.header
        return several(text, text, ending, number, offset) if several?(event, text)

        event = @continuation.look(event)
        if @open && @continuation.goes_on?(event, @open)
          append(text, ending, number, offset)
        elsif @open && event.reader == @open.reader && (joining = Catalogue::JOINING[event.reader]) &&
              joining.joins?(@open, event)
          joining.join(@open, event)
          append(text, ending, number, offset, joined: true)
        else
          open(event, ending, number, offset)
        end
      end

      def indented(text, ending, number, offset)
        event = Catalogue::FURTHER[@open.reader]&.further(@open, text, @context) || alike(text)
        event ? open(event, ending, number, offset) : append(text, ending, number, offset)
      end

      # Where a record begins with blanks, what begins with as many and a time is one too.
      def alike(text)
        blanks = @open.raw[INDENTATION] or return
        return unless @open.stamped && text[INDENTATION] == blanks

        event = Catalogue.read(text, @context)
        event if event.stamped && !Continuation.loose?(event)
      end

      # Told by its first bytes where it is not: this is asked of every line.
      def xml?(text)
        first = text.getbyte(0) or return false
        return XML_SECOND.include?(text.getbyte(1)) && XML.match?(text) if first == XML_FIRST

        first <= BLANK && XML.match?(text)
      end

      def open(event, ending, number, offset)
        close
        event.ending = ending
        event.line_number = number
        event.offset = offset
        @open = event
        @continuation.place(event)
        finishing = Catalogue::UNFINISHED[event.reader]
        @unfinished = finishing if finishing&.unfinished?(event.raw)
      end

      # The first line of a source may name the columns of all others, or start a JSON text of many lines.
      def first(text)
        header = Header.read(text)
        @context.header = header if header
        cutter = JsonText.of(text)
        @json = Objects.new(cutter, 1, 0) if cutter
      end

      # Names of columns may stand below a title.
      def columns(event, text)
        @context.header = Header.read(text)
        @context.header ? Catalogue.read(text, @context) : event
      end

      # A record that its reader said is not whole: it is read again with each line, until it is.
      def resume(text, ending, number, offset)
        before = @open
        return give_up(text, ending, number, offset) if before.raw.bytesize + text.bytesize + 2 > UNFINISHED_LIMIT

        raw = before.raw + before.ending + text
        whole = !@unfinished.unfinished?(raw)
        event = whole ? Catalogue.read(raw, @context) : before
        event.raw = raw
        event.ending = ending
        event.line_number = before.line_number
        event.offset = before.offset
        @open = event
        @unfinished = nil if whole
      end

      # What has no end is no such record: from here on lines stand for themselves.
      def give_up(text, ending, number, offset)
        @unfinished = nil
        close
        line(text, ending, number, offset, false)
      end

      def several?(event, text)
        (event.reader == :otlp_json && Otlp.several?(text)) || (event.reader == :json && JsonText.several?(text))
      end

      # A request with several log records, and a list of objects that has a name, become as many events; each has its
      # part of the text, what stands around the request too.
      def several(text, request, ending, number, offset)
        before = text.index(request)
        at = 0
        parts = Formats::OtlpJson.read(request, @context) ? Otlp.parts(request) : JsonText.parts(request)
        parts.each do |stop, object|
          last = stop == request.bytesize
          stop = last ? text.bytesize : before + stop
          event = Catalogue.read(object, @context)
          event.raw = text.byteslice(at, stop - at)
          event.body_at = 0
          open(event, last ? ending : Lines::NONE, number + text.byteslice(0, at).count("\n"), offset + at)
          at = stop
        end
      end

      # @param joined [Boolean] whether the reader has taken from the line what it tells
      def append(text, ending, number, offset, joined: false)
        event = @open
        return split(text, ending, number, offset) if event.raw.bytesize + text.bytesize + 2 > LIMIT

        @grown = true
        grow(event, text) unless joined
        event.raw = event.raw.dup if event.raw.frozen?
        event.raw << event.ending << text
        event.ending = ending
      end

      # The message grows too where it is the end of the record, or what its reader has taken from there; that of a head
      # begins.
      def grow(event, text)
        return if Catalogue::HEADS[event.reader]&.below(event, text)
        return begin_message(event, text) if event.message.empty?

        return event.message = event.message.dup << event.ending << text if event.raw.end_with?(event.message)

        joining = Catalogue::JOINING[event.reader]
        joining.go_on(event, text) if joining.respond_to?(:go_on)
      end

      # Below a line that has a time alone.
      def begin_message(event, text)
        event.message = text.dup
        event.severity, event.severity_rule = SeverityWords.read(text) if event.severity == Severity::UNSET
      end

      # A further piece of a line that is too long for one.
      def piece(text, ending, number, offset)
        @open ? split(text, ending, number, offset) : open(Catalogue.read(text, @context), ending, number, offset)
      end

      def split(text, ending, number, offset)
        before = @open
        before.note ||= SPLIT
        event = before.bare
        event.raw = event.message = text
        event.note = GOES_ON
        open(event, ending, number, offset)
      end

      def close
        event = @open or return
        @open = nil
        event.message = event.message.sub(BLANK_END, "") if @grown && event.message.getbyte(-1) == LINE_FEED
        @grown = false
        @sink.call(event)
      end

      # An entry of a journal ends with an empty line, unless that stands within one of its values.
      def entry(text, ending, number, offset)
        close unless @entry
        @entry ||= Pending.new("".b, number, offset)
        @entry.text << text << ending
        close_entry if (text.empty? && Formats::JournalExport.whole?(@entry.text)) || @entry.text.bytesize > LIMIT
      end

      def close_entry
        pending = @entry or return
        @entry = nil
        emit_whole(pending)
      end

      def emit_whole(pending)
        ending = pending.text[/\r?\n\z/] || Lines::NONE
        open(
          Catalogue.read(pending.text.byteslice(0, pending.text.bytesize - ending.bytesize), @context), ending,
          pending.number, pending.offset
        )
        close
      end

      # A listing ends with its last line, or before the next.
      def listing(text, ending, number, offset)
        way = Formats::Listing.begins(text)
        return abandon(text, ending, number, offset) if @listing && way.nil? && foreign?(text)

        close_listing if @listing && (way || @listing.text.bytesize > LIMIT)
        @listing ? @listing.text << text << ending : begin_listing(text, ending, number, offset)
        @way ||= way
        close_listing if @way&.finish&.match?(text)
      end

      # A line that starts with a time is none of a listing, whose end is missing then.
      def foreign?(text)
        return !@way.inside.match?(text) if @way.inside

        !Stamp.read(text.byteslice(0, Stamp::LONGEST), @context.clock, DATES, remember: false).nil?
      end

      def abandon(text, ending, number, offset)
        close_listing
        line(text, ending, number, offset, false)
      end

      def begin_listing(text, ending, number, offset)
        if @open && @open.raw == Formats::Listing::ABOVE && text.start_with?(Formats::Listing::ABOVE_START)
          @listing = Pending.new(@open.raw + @open.ending + text + ending, @open.line_number, @open.offset)
          @open = nil
        else
          close
          @listing = Pending.new(text + ending, number, offset)
        end
      end

      def close_listing
        pending = @listing or return
        @listing = @way = nil
        emit_whole(pending)
      end

      # Windows event XML spans lines, or has several events in one.
      def xml(text, ending, number, offset)
        if @xml
          from = [@xml.text.bytesize - LONGEST_FINISH, 0].max
          @xml.text << text << ending
        else
          close
          from = 0
          @xml = Pending.new(text.dup << ending, number, offset)
        end
        take_xml(from)
      end

      def take_xml(from)
        while @xml && (finish = XML_FINISH.match(@xml.text, from))
          stop = finish.end(0)
          rest = @xml.text.byteslice(stop, @xml.text.bytesize)
          closing = rest[/\A[ \t]*(?:<\/(?:Events|log)>)?[ \t]*(?:\r?\n)?/]
          emit_xml(@xml.text.byteslice(0, stop) << closing, @xml)
          rest = rest.byteslice(closing.bytesize, rest.bytesize)
          @xml = rest.empty? ? nil : Pending.new(rest, @xml.number, @xml.offset + stop + closing.bytesize)
          from = 0
        end
        close_xml if @xml && @xml.text.bytesize > LIMIT
      end

      def emit_xml(text, pending)
        ending = text[/\r?\n\z/] || Lines::NONE
        raw = text.byteslice(0, text.bytesize - ending.bytesize)
        open(Catalogue.read(raw, @context), ending, pending.number, pending.offset)
      end

      def json(text, ending)
        @json.cutter.push(text + ending) { |piece| emit_object(piece) }
        give_out_json unless @json.cutter.fits? && @json.text.bytesize <= LIMIT
      end

      def emit_object(piece)
        ending = piece.text[/\r?\n\z/] || Lines::NONE
        raw = piece.text.byteslice(0, piece.text.bytesize - ending.bytesize)
        event = Catalogue.read(piece.object, @context)
        if several?(event, piece.object) then several(raw, piece.object, ending, @json.number, @json.offset)
        else
          event.raw = raw
          event.body_at = 0
          open(event, ending, @json.number, @json.offset)
        end
        @json.number += piece.text.count("\n")
        @json.offset += piece.text.bytesize
      end

      def give_out_json
        pending = @json
        @json = nil
        give_out(pending)
      end

      # What closes the list belongs to its last object.
      def close_json
        return unless @json
        return give_out_json if @open.nil? || @json.text.empty? || @json.cutter.open? || !@json.cutter.fits?

        whole = @open.raw + @open.ending + @json.text
        @json = nil
        @open.ending = whole[/\r?\n\z/] || Lines::NONE
        @open.raw = whole.byteslice(0, whole.bytesize - @open.ending.bytesize)
      end

      def close_xml
        pending = @xml or return
        @xml = nil
        give_out(pending)
      end

      # What looked like a record and never ended is given out line by line.
      def give_out(pending)
        number = pending.number - 1
        offset = pending.offset
        pending.text.each_line do |whole|
          ending = whole[/\r?\n\z/] || Lines::NONE
          text = whole.byteslice(0, whole.bytesize - ending.bytesize)
          number += 1
          open(Catalogue.read(text, @context), ending, number, offset)
          offset += whole.bytesize
        end
      end
    end
  end
end
