# frozen_string_literal: true

require_relative "../test_helper"

# Lines that name no machine belong to one that is called after where they came from, until people call it otherwise.
class OriginTest < Northdrift::StoreTest
  include Northdrift

  AT_US = Time.utc(2026, 11, 22, 23, 30).to_i * 1_000_000
  LINES = "2026-11-22 06:12:08 ERROR first of it\n2026-11-22 06:12:09 INFO second of it\n"

  def test_uploads_are_called_after_their_folder_or_archive_or_when_they_were_given
    {
      "web1/var/log/app.log" => "web1", "web 1/app.log" => "web-1", "case-17.zip!var/log/app.log" => "case-17",
      "both.zip!web1.tar.gz!app.log" => "web1", "app.log" => "upload-2026-11-23-0030",
      "var/app.log" => "upload-2026-11-23-0030", "./app.log" => "upload-2026-11-23-0030",
      "web1/bundle.tar!app.log" => "bundle", "web1/logs.tar!app.log" => "web1"
    }.each { |name, machine| assert_equal machine, Intake::Origin.of_upload(name, AT_US, "Europe/Oslo"), name }
  end

  def test_files_of_this_computer_are_called_after_what_was_asked_for
    folder = File.join(@dir, "web1")
    FileUtils.mkdir_p(File.join(folder, "var/log"))
    file = File.join(folder, "var/log/app.log")
    File.write(file, LINES)
    here = Socket.gethostname
    {
      [file, folder] => "web1", [file, File.join(folder, "var/log")] => "web1", [file, file] => "web1",
      ["#{@dir}/old.tgz!x/app.log", "#{@dir}/old.tgz"] => "old", ["/var/log/app/x.log", "/var/log/app"] => here,
      ["(standard input)", "-"] => here
    }.each { |(name, given), machine| assert_equal machine, Intake::Origin.of_path(name, [given]), name }
  end

  # The address of the sender stands for its name where it gives none: RFC 3164, section 4.3.2.
  def test_senders_are_called_by_their_address
    assert_equal "192.0.2.7", Intake::Origin.of_sender("192.0.2.7")
    ["127.0.0.1", "::1", "::ffff:127.0.0.1", nil].each do |address|
      assert_equal Socket.gethostname, Intake::Origin.of_sender(address)
    end
  end

  def test_what_people_call_it_holds_for_what_was_there_and_for_what_comes_later
    bring("case-17", LINES)
    bring("case-17", "Nov 22 06:12:10 case-17 app: says its machine itself\n")
    assert_equal 2, Store::Renaming.rename("case-17", "alder")
    assert_equal 2, found("host.name = alder").size
    assert_equal ["Nov 22 06:12:10 case-17 app: says its machine itself"], found("host.name = case-17")
    bring("case-17", "2026-11-22 06:12:11 WARN third, of a kind that was not there\n")
    assert_equal 3, found("host.name = alder").size

    # It is had back by its first name, and may be called anew.
    Store::Renaming.rename("alder", "birch")
    Store::Renaming.rename("birch", "case-17")
    assert_equal 4, found("host.name = case-17").size
    assert_empty Store::MachineName.all_called
  end

  def test_what_was_said_of_it_and_what_happened_to_it_goes_with_it
    bring("case-17", "2026/11/22 06:12:09 [alert] 811#811: worker process 812 exited on signal 11\n")
    Store::Fleet.keep(Fleet::Roster.read("machine,role,needs\ncase-17,web,db1\n"))
    before = Store::Happenings.rows("machine = ?", ["case-17"])
    assert_equal 1, before.size
    Store::Renaming.rename("case-17", "alder")
    assert_equal before.map(&:id), Store::Happenings.rows("machine = ?", ["alder"]).map(&:id)
    assert_equal "web", Store::Fleet.current.entry("alder").role
    assert_equal %w[db1], Store::Fleet.current.dependencies.below("alder")
    assert_equal 1, found("host.role = web").size
  end

  def test_a_name_that_lines_say_is_theirs
    import_text("Nov 22 06:00:00 alder app: one\n")
    assert_raises(Store::Renaming::Unfit) { Store::Renaming.rename("alder", "birch") }
    bring("case-17", LINES)
    assert_raises(Store::Renaming::Unfit) { Store::Renaming.rename("case-17", "two words") }
    assert_equal 2, found("host.name = case-17").size
  end

  # The same file given again is known, wherever it came from the second time.
  def test_the_same_content_from_elsewhere_is_known
    bring("case-17", LINES * 40)
    assert_equal 0, bring("case-18", LINES * 40).lines
  end

  private

  def bring(place, text)
    path = File.join(@dir, "app-#{text.hash}.log")
    File.write(path, text)
    Intake::Importer.new(place: ->(_) { place }, clock: -> { AT_US }).import(Intake::Parts.new([path]))
  end
end
