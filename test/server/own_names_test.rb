# frozen_string_literal: true

require "minitest/mock"
require_relative "../test_helper"

# Who listens on a network is asked by other names than who listens to itself.
class OwnNamesTest < Minitest::Test
  include Northdrift

  LOCAL = %w[127.0.0.1 192.0.2.7 ::1 2001:db8::7 fe80::7].map { |address| Addrinfo.ip(address) }.freeze

  def names(bind, *further)
    Socket.stub(:ip_address_list, LOCAL) do
      Socket.stub(:gethostname, "logs.hall.example") do
        found = Server::OwnNames.new(bind, further)
        [found.hosts, found.told]
      end
    end
  end

  def test_on_this_computer_alone
    assert_equal [%w[127.0.0.1], "127.0.0.1"], names("127.0.0.1")
    assert_equal [%w[[::1]], "[::1]"], names("::1")
  end

  def test_on_all_networks
    hosts, told = names("0.0.0.0")
    assert_equal %w[0.0.0.0 logs.hall.example logs 192.0.2.7 [2001:db8::7]], hosts
    assert_equal "192.0.2.7", told
  end

  def test_on_one_network_and_with_a_name
    hosts, told = names("192.0.2.7", "northdrift.example")
    assert_equal %w[192.0.2.7 logs.hall.example logs [2001:db8::7] northdrift.example], hosts
    assert_equal "192.0.2.7", told
    assert_equal "northdrift.example", names("0.0.0.0", "northdrift.example").last
  end
end
