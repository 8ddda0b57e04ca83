# frozen_string_literal: true

require_relative "../test_helper"
require_relative "asking"
require "csv"

# What somebody sees who may not see everything is what they would see had the rest never come in.
class CounterfactualTest < Northdrift::AskingTest
  include Northdrift

  WORLDS = ENV["NORTHDRIFT_FULL"] ? 1..10 : [1, 2]
  # The others decide by kinds alone; a source cuts through them.
  SIGHTS = ENV["NORTHDRIFT_FULL"] ? 0..6 : [1, 5]
  FINDS = ["", "severity >= warning", "error", "lost connection", "service.name = shop", "has request.id",
           "has user.name"].freeze
  QUESTIONS = ENV["NORTHDRIFT_FULL"] ? 3 : 2
  # Numbers that things have in one data folder, and how long it took.
  NUMBERS = %w[id event_id source_id line_number last_line offset milliseconds happening evidence].freeze

  # A data folder, and what answers for it.
  Side = Struct.new(:app, :data)

  def setup
    super
    @homes = []
  end

  def teardown
    ActiveRecord::Base.connection_handler.clear_all_connections!
    @homes.each { |home| FileUtils.rm_rf(home) }
    Store::Database.open(@data)
    super
  end

  WORLDS.each do |number|
    define_method("test_world_#{number}") do
      world = SmallWorld.new(number, File.join(@dir, "logs"))
      chance = Random.new(number)
      all = nil
      world.sights.values_at(*SIGHTS).each do |find, wanted|
        all ||= side(world.files, world.roster)
        seen = world.lines.select(&wanted)
        next if seen.empty?

        own = side(world.files(&wanted), world.roster(world.machines & (seen.map(&:machine) | said(world, find))))
        FINDS.sample(QUESTIONS, random: chance).each do |text|
          expected, answers = [[own, ""], [all, find]].map { |side, sight| answers(side, sight, text) }
          expected.each_key do |path|
            assert_same_answer expected[path], answers[path], "world #{number}, #{find}, #{text.inspect}, #{path}"
          end
        end
      end
    end
  end

  private

  # Answers are long: what differs is told with its place.
  def assert_same_answer(expected, answer, place)
    return pass if expected == answer

    case expected
    when Hash
      (expected.keys | answer.keys).each { |key| assert_same_answer(expected[key], answer[key], "#{place}, #{key}") }
    when Array
      [expected.size, answer.size].max.times { |at| assert_same_answer(expected[at], answer[at], "#{place}, #{at}") }
    else assert_equal expected, answer, place
    end
  end

  # Machines of which no line is seen, but what is said of them.
  def said(world, find)
    world.machines.select do |name|
      line = world.lines.find { |one| one.machine == name } or next
      fields = { "host.name" => name, "host.site" => line.site, "host.role" => line.role, "host.tags" => line.tags }
      Find::Matcher.new(Find::Parser.parse(find)).match?(
        Find::Matcher::Subject.new(8, "", nil, nil, "", -> { "" }, -> { fields })
      )
    end
  end

  # @return [Side]
  def side(files, roster)
    home = Dir.mktmpdir("northdrift-test").tap { |made| @homes << made }
    data = File.join(home, "data")
    Store::Database.open(data)
    Store::Fleet.keep(Northdrift::Fleet::Roster.read(roster))
    FileUtils.rm_rf(File.join(@dir, "logs"))
    files.each do |path, text|
      FileUtils.mkdir_p(File.dirname(path))
      File.binwrite(path, text)
      File.utime(SmallWorld::START, SmallWorld::START, path)
    end
    import(File.join(@dir, "logs"))
    Side.new(Server::App.build(data, mode: Server::Access::Mode.new(people: true)), data)
  end

  def answers(side, sight, find)
    Store::Database.open(side.data)
    @app = side.app
    @sight = sight
    @names = {}
    _, secret = Store::Token.make("test", role: "viewer", days: 1, sight: sight)
    @headers = HOST.merge("HTTP_AUTHORIZATION" => "Bearer #{secret}", "CONTENT_TYPE" => "application/json")
    asked = Rack::Utils.build_query("find" => find)
    paths(asked).each_with_index.to_h do |path, at|
      ["#{at} #{path.gsub(/\d+/, '#')}", answer(path)]
    end.merge(exported(asked), cards(find))
  end

  # Cards of a board of every kind, beside the window before.
  def cards(find)
    query = Rack::Utils.build_query("find" => find, "measure" => "count by host.name")
    all = Northdrift::Boards::Drawing::ALL.keys.map { |kind| { "id" => kind, "drawing" => kind, "query" => query } }
    asked = { "definition" => { "title" => "x", "compared" => "before", "cards" => all },
              "from_us" => moment(40), "to_us" => moment(60) }
    post("/api/boards/answers", JSON.generate(asked), @headers)
    last_response.body.lines.map { |line| JSON.parse(line) }.each_with_object({}) do |part, found|
      part["cards"]&.each { |id| found["card #{id}"] = told(part["answer"] || part["problem"]) }
    end
  end

  def paths(asked)
    lines = JSON.parse(raw("/api/lines?limit=1000&#{asked}"))["lines"].to_a
    middle = lines[lines.size / 2]
    [
      "/api/status", "/api/lines?limit=1000&#{asked}", "/api/lines?#{asked}&end=last&limit=7",
      "/api/histogram?#{asked}", "/api/histogram?by=machine&fold=yes&#{asked}", "/api/histogram?by=service&#{asked}",
      "/api/histogram?with=before&#{asked}", "/api/silences?#{asked}", "/api/patterns?#{asked}",
      "/api/patterns?with=before&from=#{moment(40)}&to=#{moment(60)}&#{asked}", "/api/fields?#{asked}",
      "/api/words?#{asked}", "/api/measurements?measure=count%20by%20host.name&#{asked}", "/api/clocks?#{window}",
      "/api/completions?prefix=", "/api/completions?prefix=a", "/api/completions?field=host.name&prefix=",
      "/api/completions?field=host.site&prefix=", "/api/starters?#{window}", "/api/logbook?limit=2000",
      "/api/logbook?#{asked}", "/api/restarts", "/api/fleet", "/api/fleet?by=role", "/api/fleet/map",
      "/api/fleet/table.csv", "/api/fleet/table.json", "/api/fleet/proposals?#{window}",
      "/api/fleet/availability?by=machine&#{window}", "/api/windows/main", "/api/cases", "/api/searches", "/api/scopes",
      "/api/now", "/api/now/strips", "/api/now/strips?by=machine",
      "/api/windows?words=yesterday", "/api/windows/moment?words=06:30", *(middle && of_line(middle))
    ]
  end

  def of_line(line)
    detail = JSON.parse(raw("/api/lines/#{line['id']}"))
    [
      "/api/lines/#{line['id']}", "/api/lines/#{line['id']}/seen-before", "/api/causes?line=#{line['id']}",
      "/api/causes/patterns?line=#{line['id']}", "/api/patterns/#{detail['pattern']['name']}",
      "/api/sources/#{detail['source_id']}?line=#{line['line_number']}", "/api/sources/#{detail['source_id']}/text"
    ]
  end

  def exported(asked)
    %w[text raw ndjson csv rfc5424 otlp].to_h do |form|
      made = JSON.parse(raw("/api/exports?form=#{form}&columns=time,message,host.name,pattern&#{asked}", :post))
      ["export #{form}", made["id"] && [made["lines"], file("/api/exports/#{made['id']}/file", form)]]
    end
  end

  def file(path, form)
    text = raw(path)
    case form
    when "ndjson" then text.lines.map { |line| told(JSON.parse(line)) }
    when "csv" then CSV.parse(text, headers: true).map { |row| told(row.to_h) }
    else text.lines.map { |line| spoken(line) }
    end
  end

  def moment(minute) = micros(SmallWorld::START + (minute * 60))
  def window = "from=#{moment(0)}&to=#{moment(60)}"

  def raw(path, method = :get)
    send(method, path, {}, @headers)
    assert_includes [200, 201, 422], last_response.status, "#{path}: #{last_response.body}"
    last_response.body
  end

  # @return [Object] with what is not its number
  def answer(path)
    body = raw(path)
    case last_response.content_type
    when /ndjson/ then told(JSON.parse(body.lines.last)["answer"])
    when /json/ then told(JSON.parse(body))
    else spoken(body)
    end
  end

  def told(object)
    case object
    when Hash then object.except(*NUMBERS).transform_values { |value| told(value) }
    when Array then object.map { |one| told(one) }
    when String then spoken(object)
    else object
    end
  end

  # A pattern's number is what it says.
  def spoken(text)
    text.gsub(/\bP\d+\b/) { |name| "<#{@names[name] ||= pattern(name)}>" }
  end

  def pattern(name)
    Store::Sight.within(@sight.presence) { Store::KnownPatterns.current.text(Store::KnownPatterns.id(name)) }
  end
end
