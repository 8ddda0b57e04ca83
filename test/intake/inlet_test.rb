# frozen_string_literal: true

require_relative "../test_helper"

# A way in goes on whatever stands in its way, and says what that is.
class InletTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Collecting

  # Fails in turn as it is told to, and then runs.
  class Stumbling < Intake::Live::Inlet
    def initialize(feed, funnel, office, failures)
      super(feed, funnel, office)
      @failures = failures
    end

    private

    def pause = sleep(0.05)

    def run
      failure = @failures.shift
      raise failure if failure

      @office.problem(@feed, nil)
      sleep 0.02 until @stopping
    end
  end

  # What is told of a feed, in its order.
  class Office < Intake::Live::Office
    attr_reader :told

    def problem(feed, text)
      (@told ||= []) << text
      super
    end
  end

  def run_with(*failures)
    office = Office.new(@data)
    inlet = Stumbling.new(feed("udp", port: free_port), Intake::Live::Funnel.new { nil }, office, failures.dup)
    inlet.start
    eventually { office.told&.size == failures.size + 1 && office.told.last.nil? }
    office.told.first(failures.size)
  ensure
    inlet&.stop
  end

  def test_an_address_that_cannot_be_had_is_tried_again
    told = run_with(Errno::EADDRINUSE.new, Errno::EADDRNOTAVAIL.new("bind(2)"), SocketError.new("no such name"))
    assert_match(/\A127\.0\.0\.1:\d+ is in use by another program\z/, told[0])
    assert_includes told[1], "Cannot assign requested address"
    assert_equal "no such name", told[2]
    assert_nil Store::Feed.sole.problem
  end

  # One odd thing must not end a source for ever.
  def test_a_fault_is_told_and_tried_again
    told = nil
    _, warned =
      capture_io do
        told = run_with(ArgumentError.new("invalid byte sequence in UTF-8"), NoMethodError.new("of nothing"))
      end
    assert_equal [
      "stopped by a fault, and tried again: invalid byte sequence in UTF-8",
      "stopped by a fault, and tried again: of nothing"
    ], told
    assert_includes warned, "invalid byte sequence"
  end

  # Tells who waits when it is in the database; who is woken for no reason goes on waiting.
  def test_a_ticket_waits_for_what_came_of_it
    ticket = Intake::Live::Funnel::Ticket.new
    waiting = Thread.new { ticket.wait(DEADLINE) }
    eventually { waiting.status == "sleep" }
    5.times { waiting.wakeup && Thread.pass }
    eventually { waiting.status == "sleep" }
    ticket.settle(:written)
    assert_equal :written, waiting.value
    assert_equal :written, ticket.wait(0)
    assert_nil Intake::Live::Funnel::Ticket.new.wait(0.2)
  end

  def stream
    Intake::Live::Stream.new(
      number: 1, feed_id: 1, name: "x", machine: nil, zone: "UTC", source_id: nil, fingerprint: ""
    )
  end

  # A bundle that could not be handed on stays, and goes first: nobody is told of it what came of a later one.
  def test_what_could_not_be_handed_on_is_handed_on_later_and_acknowledged_then
    failures = [Errno::EROFS.new, TypeError.new("no _dump_data"), nil, nil]
    told = []
    got = []
    funnel = Intake::Live::Funnel.new(trouble: ->(error) { told << error.class }) do |bundle|
      (failure = failures.shift) ? raise(failure) : got << bundle.groups.map(&:text)
    end
    first, second = Array.new(2) { Intake::Live::Funnel::Ticket.new }
    funnel.messages(stream, ["one "], ticket: first)
    2.times { funnel.flush }
    assert_equal [[Errno::EROFS, TypeError], []], [told, got]
    funnel.flush
    funnel.messages(stream, ["two"], ticket: second)
    funnel.flush
    assert_equal [["one "], ["two"]], got
    funnel.settled("the first")
    assert_equal ["the first", nil], [first.wait(0), second.wait(0)]
    funnel.settled("the second")
    assert_equal "the second", second.wait(0)
  end

  # A sender that waited too long sends the same again while it is on its way: both wait for the one.
  def test_a_delivery_that_is_on_its_way_is_not_taken_twice
    got = []
    funnel = Intake::Live::Funnel.new { |bundle| got << bundle.groups.map(&:text) }
    send = ->(name, text) { funnel.once(name) { |ticket| funnel.messages(stream, [text], ticket: ticket) } }
    tickets = [%w[1 one], %w[1 one], %w[2 two]].map { |name, text| send.call(name, text) }
    assert_equal [["one"], ["two"]], got
    funnel.settled(:failed)
    funnel.settled(:written)
    assert_equal(%i[failed failed written], tickets.map { |ticket| ticket.wait(0) })
    send.call("1", "one")
    assert_equal [["one"], ["two"], ["one"]], got
  end

  # A sender whose message fills a bundle is not told of a fault that is none of its: the message is in the buffer.
  def test_who_fills_a_bundle_that_cannot_be_handed_on_is_not_told_to_send_again
    writable = false
    got = []
    funnel = Intake::Live::Funnel.new(trouble: ->(_) {}) { |bundle| writable ? got << bundle : raise(Errno::EIO) }
    funnel.messages(stream, ["x" * Intake::Live::Funnel::BUNDLE_BYTES])
    writable = true
    funnel.flush
    assert_equal [Intake::Live::Funnel::BUNDLE_BYTES], got.map(&:bytesize)
  end

  # The thread that hands on goes on whatever stops one bundle.
  def test_handing_on_outlives_a_fault
    failures = [ArgumentError.new("odd")]
    got = Queue.new
    funnel = Intake::Live::Funnel.new(trouble: ->(_) {}) do |bundle|
      (failure = failures.shift) ? raise(failure) : got << bundle
    end
    thread = Thread.new { funnel.run }
    funnel.messages(stream, ["one"])
    eventually { got.size == 1 }
    assert_predicate thread, :alive?
  ensure
    thread&.kill
  end

  # Senders that wait hold less than there is room for, and what cannot wait has the rest.
  def test_who_can_wait_leaves_room_for_who_cannot
    bundles = Queue.new
    funnel = Intake::Live::Funnel.new { |bundle| bundles << bundle }
    stream = stream()
    message = "m" * 100_000
    sent = 0
    sender = Thread.new do
      40.times do |index|
        funnel.messages(stream, [message], patient: true)
        sent = index + 1
      end
    end
    eventually { sender.status == "sleep" }
    assert_operator (sent - 1) * message.bytesize, :<, Intake::Live::Funnel::PATIENT_BUDGET
    refute_predicate funnel, :full?
    funnel.messages(stream, [message], wait: false)
    eventually("the sender's turn") do
      funnel.flush
      funnel.settled(bundles.pop) until bundles.empty?
      !sender.alive?
    end
    assert_equal 40, sent
  end

  # What is put in waits for room, and is handed on in its order and whole.
  def test_a_funnel_holds_so_much_and_no_more
    bundles = Queue.new
    funnel = Intake::Live::Funnel.new { |bundle| bundles << bundle }
    stream = stream()
    message = "m" * 100_000
    sender = Thread.new { 400.times { |index| funnel.messages(stream, ["#{index} #{message}"]) } }
    eventually { funnel.full? && sender.status == "sleep" }
    assert_raises(Intake::Live::Funnel::Full) { funnel.messages(stream, ["x"], wait: false) }
    got = []
    meanwhile(-> { got.size == 400 }, "handing on") do
      funnel.flush
      next Thread.pass if bundles.empty? # the sender has not been woken yet

      bundle = bundles.pop
      bundle.groups.each do |group|
        group.sizes.inject(0) { |at, size| (got << group.text.byteslice(at, size)[/\A\d+/].to_i) && at + size }
      end
      funnel.settled(:written)
    end
    assert_equal (0...400).to_a, got
    sender.join
    refute_predicate funnel, :full?
  end
end
