# frozen_string_literal: true

require_relative "../test_helper"
require "digest"
require "open3"

# Archives and encodings as the programs of this machine write them: tar(1), gzip(1), iconv(1), Python's zipfile.
class ArchivesTest < Northdrift::StoreTest
  include Northdrift

  LONG = "a-folder-whose-name-is-long/#{'x' * 90}/#{'y' * 120}.log".freeze

  def log(name, count = 40)
    Array.new(count) { |index| "2026-11-22 06:#{format('%02d', index)}:00 #{name} wrote #{index}\n" }.join
  end

  def tree
    @files = {
      "one.log" => log("one"), "sub/two.log" => log("two"), LONG => log("three"), "sub/with blank é.log" => log("four"),
      "sub/empty.log" => "", "no-ending.log" => log("five").chomp
    }
    @files.each { |name, text| write("tree/#{name}", text) }
    FileUtils.ln_s("one.log", File.join(@dir, "tree/link.log"))
    File.join(@dir, "tree")
  end

  def run!(*command, **options)
    output, status = Open3.capture2e(*command, **options)
    flunk "#{command.first}: #{output}" unless status.success?
  end

  # Every line of every file, once: nothing more and nothing less.
  def assert_whole(summary, files = @files)
    expected = files.values.flat_map { |text| text.lines(chomp: true) }.sort
    assert_equal expected, found.map { |raw| raw.force_encoding("UTF-8") }.sort
    assert_equal(expected.size, summary.events)
  end

  def ends_of_names
    Store::Source.pluck(:name).map { |name| name.split("!", 2).last.delete_prefix("./").delete_prefix("tree/") }
  end

  # GNU tar's formats keep long names in three ways: divided, in a record of their own, and in an extended header
  # (POSIX.1-2001).
  {
    "ustar" => ["--format=ustar", { without_long: true }], "gnu" => ["--format=gnu", {}],
    "pax" => ["--format=posix", {}]
  }.each do |name, (format, given)|
    define_method("test_a_tar_of_the_format_#{name}") do
      folder = tree
      excluded = given[:without_long] ? ["--exclude=a-folder*"] : []
      run!("tar", format, *excluded, "-cf", File.join(@dir, "all.tar"), "-C", folder, ".")
      summary = import(File.join(@dir, "all.tar"))
      assert_whole(summary, given[:without_long] ? @files.except(LONG) : @files)
      assert_includes ends_of_names, LONG unless given[:without_long]
      assert_includes ends_of_names, "sub/with blank é.log"
    end
  end

  # Times of files stand in for times that lines do not have.
  def test_the_time_of_a_file_in_a_tar
    path = write("tree/bare.txt", "no time at all\n")
    File.utime(Time.utc(2025, 3, 4, 5, 6, 7), Time.utc(2025, 3, 4, 5, 6, 7), path)
    run!("tar", "-czf", File.join(@dir, "all.tgz"), "-C", File.join(@dir, "tree"), ".")
    import(File.join(@dir, "all.tgz"))
    assert_equal Time.utc(2025, 3, 4, 5, 6, 7), question.to_enum(:each).first.time
  end

  # gzip(1): the levels differ in bytes, not in content; members may stand one after another ("gzip -c a b"), as
  # logrotate's do when they are joined.
  def test_members_of_gzip_at_every_level
    parts = (1..9).map do |level|
      path = write("part-#{level}.log", log("level#{level}", 30))
      run!("gzip", "-#{level}", "-k", path)
      File.binread("#{path}.gz")
    end
    summary = import(write("all.gz", parts.join))
    assert_whole(summary, (1..9).to_h { |level| [level, log("level#{level}", 30)] })
  end

  # Python's zipfile: stored, deflated, with a comment, with a name that is no ASCII, written as a stream.
  SCRIPT = <<~PYTHON
    import sys, zipfile
    folder, path = sys.argv[1:]
    class Stream:
        def __init__(self, file): self.file = file
        def write(self, data): return self.file.write(data)
        def flush(self): self.file.flush()
    import os
    with open(path, "wb") as file:
        with zipfile.ZipFile(Stream(file) if "stream" in path else file, "w") as archive:
            archive.comment = b"made by a test"
            for index, (root, _, names) in enumerate(sorted(os.walk(folder))):
                for name in sorted(names):
                    full = os.path.join(root, name)
                    if os.path.islink(full): continue
                    archive.write(full, os.path.relpath(full, folder), zipfile.ZIP_STORED if name.startswith("one") else zipfile.ZIP_DEFLATED)
  PYTHON

  %w[plain stream].each do |name|
    define_method("test_a_zip_that_python_wrote_#{name}") do
      folder = tree
      run!("python3", "-c", SCRIPT, folder, File.join(@dir, "#{name}.zip"))
      summary = import(File.join(@dir, "#{name}.zip"))
      assert_whole(summary)
      assert_includes ends_of_names, LONG
      assert_includes ends_of_names, "sub/with blank é.log"
      assert_equal(
        { "empty.log" => "empty" },
        summary
          .results
          .reject { |result| result.problem.nil? }
          .to_h { |result| [File.basename(result.name), result.problem[/empty/]] }
      )
    end
  end

  # What cannot be opened says what it is, and what to do; the program's own first bytes tell.
  { "bzip2" => "bzip2", "xz" => "xz", "zstd" => "zstd" }.each do |program, word|
    define_method("test_a_file_of_#{program}_says_what_it_is") do
      skip "there is no #{program} here" unless system("command -v #{program} >/dev/null")
      path = write("a.log", log("a"))
      run!(program, "-k", path)
      packed = (Dir.glob("#{path}.*") - [path]).first
      summary = import(packed, path)
      assert_includes summary.results.find(&:problem).problem, "compressed with #{word}; unpack it first"
      assert_equal 40, summary.events
    end
  end

  # iconv(1) writes the same text in the encodings that a byte order mark tells.
  def test_encodings_that_iconv_writes
    {
      "UTF-16" => "", "UTF-16LE" => "\xFF\xFE".b, "UTF-16BE" => "\xFE\xFF".b, "UTF-8" => "\xEF\xBB\xBF".b
    }.each do |encoding, mark|
      text = log("naïve жук 日本 🦀 #{encoding}")
      output, = Open3.capture2("iconv", "-f", "UTF-8", "-t", encoding, stdin_data: text, binmode: true)
      import(write("#{encoding}.log", mark + output))
      assert_equal text.lines(chomp: true), found("source = #{encoding}.log").map { |raw| raw.force_encoding("UTF-8") },
                   encoding
    end
    assert_equal 160, question("жук").total
  end

  # Latin-1 has no mark: its bytes stay what they are, and the rest of the line is found.
  def test_bytes_of_an_encoding_without_a_mark_are_kept
    output, = Open3.capture2("iconv", "-f", "UTF-8", "-t", "ISO-8859-1", stdin_data: log("na\u00EFve"), binmode: true)
    import(write("latin.log", output))
    assert_equal output, question.to_enum(:each).map { |event| event.raw + event.kind.traits["ending"] }.join.b
    assert_equal 40, question("wrote").total
  end

  # Python writes line ends as other systems do.
  def test_line_ends
    path = File.join(@dir, "ends.log")
    run!(
      "python3", "-c",
      "import sys; open(sys.argv[1], 'w', newline='').write(''.join(f'2026-11-22 06:00:0{i} line {i}' + e for i, e " \
      "in enumerate(['\\r\\n', '\\n', '\\r\\n', '\\n\\n', ''])))",
      path
    )
    import(path)
    assert_equal(
      ["line 0", "line 1", "line 2", "line 3", "line 4"],
      question.to_enum(:each).map { |event| Text.utf8(event.message).chomp.strip }
    )
    assert_equal Digest::SHA256.file(path).hexdigest,
                 Digest::SHA256.hexdigest(
                   question.to_enum(:each).map { |event| event.raw + event.kind.traits["ending"] }.join
                 )
  end

  # Text that does not shrink to nothing when it is packed.
  def dense(mark, random)
    Array.new(6000) { |index| "2026-11-22 06:12:08 #{mark} #{random.hex(20)} wrote #{index}\n" }.join
  end

  def read_of(mark) = question(mark).to_enum(:each).map { |event| event.raw + event.kind.traits["ending"] }.join

  # A download that broke off, a disk that filled: what gzip(1) and tar(1) still get out of it is read, and what is
  # wrong is told.
  { "a.log.gz" => %w[gzip -dc], "all.tar" => %w[tar -xOf], "all.tar.gz" => %w[tar -xzOf] }.each do |name, command|
    define_method("test_what_is_left_of_#{name}_that_was_cut") do
      random = Random.new(name.size)
      4.times do |round|
        text = dense("round#{round}", random)
        write("a.log", text)
        write("b.log", "2026-11-22 06:12:09 the last\n")
        run!("tar", "-cf", File.join(@dir, "all.tar"), "-C", @dir, "a.log", "b.log")
        run!("gzip", "-fk", File.join(@dir, "a.log"), File.join(@dir, "all.tar"))
        whole = File.binread(File.join(@dir, name))
        size = random.rand(2000...(whole.bytesize - 12_000))
        path = write("cut-#{round}-#{name}", whole.byteslice(0, size))
        left, = Open3.capture3(*command, path, binmode: true)
        assert import(path).results.last.problem, "cut at #{size}"
        # tar gives whole blocks; of a broken one there may be some lines more.
        assert_includes (left.lines.size..left.lines.size + 8), read_of("round#{round}").lines.size, "cut at #{size}"
        assert text.start_with?(read_of("round#{round}").chomp), "cut at #{size}"
      end
    end
  end

  def test_what_stands_before_a_damaged_byte
    text = dense("spoiled", Random.new(12))
    run!("gzip", "-k", write("a.log", text))
    packed = File.binread(File.join(@dir, "a.log.gz"))
    packed.setbyte(packed.bytesize / 2, packed.getbyte(packed.bytesize / 2) ^ 0xFF)
    path = write("bad.log.gz", packed)
    left, = Open3.capture3("gzip", "-dc", path, binmode: true)
    summary = import(path, write("other.log", log("other")))
    assert summary.results.first.problem
    whole_lines = left.lines.take_while { |line| text.include?(line) }
    assert_operator whole_lines.size, :>, 1000
    assert_equal whole_lines.join, read_of("spoiled").byteslice(0, whole_lines.join.bytesize)
    assert_equal 40, question("other").total
  end
end
