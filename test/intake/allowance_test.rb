# frozen_string_literal: true

require_relative "../test_helper"

# How much one sender may send.
class AllowanceTest < Northdrift::StoreTest
  include Northdrift
  include Collecting

  def test_a_burst_is_taken_and_then_the_mean
    now = 100.0
    allowance = Intake::Live::Allowance.new(10, clock: -> { now })
    assert_equal [10, 0], [allowance.take(25), allowance.take(1)]
    now += 0.5
    assert_equal 5, allowance.take(25)
    now += 100
    assert_equal 10, allowance.take(25)
  end

  def test_who_can_be_slowed_waits_as_long_as_what_was_too_much_takes
    now = 100.0
    allowance = Intake::Live::Allowance.new(10, clock: -> { now })
    assert_equal [0.0, 1.5], [allowance.owe(10), allowance.owe(15)]
    now += 1.5
    assert_in_delta 0.0, allowance.owe(0)
  end

  def test_senders_are_held_to_it_and_nothing_of_tcp_is_lost
    tcp = free_port
    udp = free_port
    feed("tcp", port: tcp, limit: 100)
    feed("udp", port: udp, limit: 100)
    collect
    listening(tcp)
    TCPSocket.open("127.0.0.1", tcp) do |socket|
      4.times do |part|
        socket.write(Array.new(100) { |index| "<13>1 - alder app - - - wave #{(part * 100) + index}\n" }.join) &&
          sleep(0.05)
      end
    end
    socket = UDPSocket.new
    400.times { |index| socket.send("<13>1 - birch app - - - surge #{index}", 0, "127.0.0.1", udp) }
    eventually { question("wave").total == 400 }
    eventually { Store::Feed.find_by(kind: "udp").refused.positive? }
    eventually { question("surge").total + Store::Feed.find_by(kind: "udp").refused == 400 }
  ensure
    stop_collecting
  end
end
