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
      XML = /\A\s*<(?:\?xml\s|Events[\s>]|Event[\s>]|record>)/
      DATES = %i[iso bsd].freeze
      # Elements that are one record each.
      XML_FINISH = %r{#{Regexp.union(Formats::WindowsEvent::FINISH, Formats::JavaXml::FINISH)}}
      XML_CLOSING = %r{\G[ \t]*(?:</(?:Events|log)>)?[ \t]*(?:\r?\n)?}
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
      def settled = (@open&.event || pending)&.offset || @lines.offset

      # @return [Integer] physical lines of the source that are in events already handed out
      def settled_lines
        if @open
          @open.event.line_number - 1
        else
          pending ? pending.number - 1 : @lines.number
        end
      end

      private

      Pending = Struct.new(:text, :number, :offset)
      Entry = Struct.new(:text, :number, :offset, :cutter)
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

        # What has begun comes first: it holds what stands before the line.
        whole = under_way || beginning(text)
        return send(whole, text, ending, number, offset) if whole

        first = text.getbyte(0)
        return indented(text, ending, number, offset) if @open && (first.nil? || first == 32 || first == 9)

        event = Catalogue.read(text, @context)
        event = columns(event, text) if event.reader == :plain && !@context.header && near_start?(number, offset)
        return if several(event, text, text, ending, number, offset)

        event = @continuation.look(event)
        return open(event, ending, number, offset) unless @open

        if @continuation.goes_on?(event, @open)
          append(text, ending, number, offset)
        elsif joins?(event)
          Catalogue::JOINING[event.reader].join(@open.event, event)
          append(text, ending, number, offset, joined: true)
        else
          open(event, ending, number, offset)
        end
      end

      # @return [Symbol, nil] the kind of record of many lines that is under way
      def under_way
        if @xml then :xml
        elsif @listing then :listing
        elsif @entry then :entry
        end
      end

      # @return [Symbol, nil] the kind that a line begins
      def beginning(text)
        if xml?(text) then :xml
        elsif Formats::Listing.begins(text) then :listing
        elsif text.start_with?(Formats::JournalExport::START) then :entry
        end
      end

      def joins?(event)
        before = @open.event
        event.reader == before.reader && Catalogue::JOINING[event.reader]&.joins?(before, event)
      end

      def indented(text, ending, number, offset)
        event = Catalogue::FURTHER[@open.event.reader]&.further(@open.event, text, @context) || alike(text)
        event ? open(event, ending, number, offset) : append(text, ending, number, offset)
      end

      # Where a record begins with blanks, what begins with as many and a time is one too.
      def alike(text)
        before = @open.event
        blanks = before.raw[INDENTATION] or return
        return unless before.stamped && text[INDENTATION] == blanks

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
        @open = Joint.new(event.stand_at(ending, number, offset))
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

      def near_start?(number, offset) = number <= Header::SEARCHED && offset < Header::REACH

      # Names of columns may stand below a title.
      def columns(event, text)
        @context.header = Header.read(text)
        @context.header ? Catalogue.read(text, @context) : event
      end

      # A record that its reader said is not whole: it is read again when its last line is there.
      def resume(text, ending, number, offset)
        return give_up(text, ending, number, offset) if @open.bytesize + text.bytesize + 2 > UNFINISHED_LIMIT

        @open.append(text, ending, joined: true)
        read_again if @unfinished.finishes?(text)
      end

      def read_again
        before = @open.event
        event = Catalogue.read(before.raw, @context)
        %i[raw ending line_number offset].each { |name| event[name] = before[name] }
        @open = Joint.new(event)
        @unfinished = nil
      end

      # What has no end is no such record: from here on lines stand for themselves.
      def give_up(text, ending, number, offset)
        @unfinished = nil
        close
        line(text, ending, number, offset, false)
      end

      # A request with several log records, and a list of objects that has a name, become as many events; each has its
      # part of the text, what stands around the request too.
      # @return [Boolean] whether it has several
      def several(event, text, request, ending, number, offset)
        parts = parts(event, request) or return false
        before = text.index(request)
        at = 0
        parts.each do |stop, object|
          last = stop == request.bytesize
          raw = text.byteslice(at, (last ? text.bytesize : before + stop) - at)
          emit_part(object, raw, last ? ending : Lines::NONE, number, offset + at)
          number += raw.count("\n")
          at += raw.bytesize
        end
        true
      end

      # @return [Array<Array(Integer, String)>, nil] where each part ends, and its object; nil for a single one
      def parts(event, request)
        case event.reader
        when :otlp_json then Otlp.parts(request) if Otlp.several?(request)
        when :json then JsonText.parts(request) if JsonText.several?(request)
        end
      end

      def emit_part(object, raw, ending, number, offset)
        event = Catalogue.read(object, @context)
        event.raw = raw
        event.body_at = 0
        open(event, ending, number, offset)
      end

      # @param joined [Boolean] whether the reader has taken from the line what it tells
      def append(text, ending, number, offset, joined: false)
        return split(text, ending, number, offset) if @open.bytesize + text.bytesize + 2 > LIMIT

        @open.append(text, ending, joined: joined)
      end

      # A further piece of a line that is too long for one.
      def piece(text, ending, number, offset)
        @open ? split(text, ending, number, offset) : open(Catalogue.read(text, @context), ending, number, offset)
      end

      def split(text, ending, number, offset)
        before = @open.event
        before.note ||= SPLIT
        event = before.bare
        event.raw = event.message = text
        event.note = GOES_ON
        open(event, ending, number, offset)
      end

      def close
        joint = @open or return
        @open = nil
        @sink.call(joint.finish)
      end

      # An entry of a journal ends with an empty line, unless that stands within one of its values.
      def entry(text, ending, number, offset)
        close unless @entry
        @entry ||= Entry.new("".b, number, offset, Formats::JournalExport::Cutter.new)
        @entry.text << text << ending
        close_entry if @entry.cutter.push(text + ending) || @entry.text.bytesize > LIMIT
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

        close_listing if way
        @listing ? @listing.text << text << ending : begin_listing(text, ending, number, offset)
        @way ||= way
        close_listing if @way&.finish&.match?(text)
      end

      # What starts with a time or begins otherwise is none of a listing, whose end is missing then; so it is where that
      # never comes.
      def foreign?(text)
        return true if @listing.text.bytesize > LIMIT || beginning(text)
        return !@way.inside.match?(text) if @way.inside

        !Stamp.read(text.byteslice(0, Stamp::LONGEST), @context.clock, DATES, remember: false).nil?
      end

      def abandon(text, ending, number, offset)
        close_listing
        line(text, ending, number, offset, false)
      end

      def begin_listing(text, ending, number, offset)
        before = @open&.event
        if before && before.raw == Formats::Listing::ABOVE && text.start_with?(Formats::Listing::ABOVE_START)
          @listing = Pending.new(before.raw + before.ending + text + ending, before.line_number, before.offset)
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
        pending = @xml
        start = 0
        while (finish = XML_FINISH.match(pending.text, from))
          from = XML_CLOSING.match(pending.text, finish.end(0)).end(0)
          emit_xml(pending.text.byteslice(start, from - start), pending.number, pending.offset + start)
          start = from
        end
        leave_xml(start) unless start.zero?
        close_xml if @xml && @xml.text.bytesize > LIMIT
      end

      # What stands behind the last event of a line.
      def leave_xml(start)
        rest = @xml.text.byteslice(start, @xml.text.bytesize)
        @xml = rest.empty? ? nil : Pending.new(rest, @xml.number, @xml.offset + start)
      end

      def emit_xml(text, number, offset)
        ending = text[/\r?\n\z/] || Lines::NONE
        raw = text.byteslice(0, text.bytesize - ending.bytesize)
        open(Catalogue.read(raw, @context), ending, number, offset)
      end

      def json(text, ending)
        @json.cutter.push(text + ending) { |piece| emit_object(piece) }
        give_out_json unless @json.cutter.fits? && @json.text.bytesize <= LIMIT
      end

      def emit_object(piece)
        ending = piece.text[/\r?\n\z/] || Lines::NONE
        raw = piece.text.byteslice(0, piece.text.bytesize - ending.bytesize)
        event = Catalogue.read(piece.object, @context)
        unless several(event, raw, piece.object, ending, @json.number, @json.offset)
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

        last = @open.event
        whole = last.raw + last.ending + @json.text
        @json = nil
        last.ending = whole[/\r?\n\z/] || Lines::NONE
        last.raw = whole.byteslice(0, whole.bytesize - last.ending.bytesize)
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
