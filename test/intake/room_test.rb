# frozen_string_literal: true

require_relative "../test_helper"

# Room on the disk, as the collector minds it.
class RoomTest < Minitest::Test
  include Northdrift

  def room(free_mb, size_mb)
    Intake::Live::Room.new("/", look: ->(_) { Store::Disk.new(free_mb << 20, size_mb << 20) })
  end

  def test_it_is_scarce_by_share_on_a_small_disk_and_by_size_on_a_large_one
    assert_nil room(60, 1000).scarce
    assert_match(/nearly full: 41 MB/, room(40, 1000).scarce)
    assert_nil room(600, 1_000_000).scarce
    assert_match(/nearly full/, room(500, 1_000_000).scarce)
  end

  def test_the_last_of_it_is_not_written_to
    room(11, 1000).check
    assert_raises(Errno::ENOSPC) { room(9, 1000).check }
    room(70, 1_000_000).check
    assert_raises(Errno::ENOSPC) { room(60, 1_000_000).check }
  end

  def test_a_disk_that_cannot_be_looked_at_stops_nobody
    unknown = Intake::Live::Room.new("/", look: ->(_) {})
    unknown.check
    assert_nil unknown.scarce
  end

  # Against what the file system itself says, by another program: stat of GNU coreutils.
  def test_the_disk_is_as_stat_has_it
    free, size, block = `stat -f -c '%a %b %S' /`.split.map(&:to_i)
    disk = Store::Disk.of("/")
    assert_equal size * block, disk.size
    assert_in_delta free * block, disk.free, disk.size * 0.01
  end
end
