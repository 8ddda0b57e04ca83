# frozen_string_literal: true

module Northdrift
  # A few machines with a few files of an hour, made up by chance: what comes of it is the same for the same number.
  class SmallWorld
    # A line, and what is known of where it came from.
    Line = Struct.new(:machine, :service, :site, :role, :tags, :source, :text, keyword_init: true)

    SITES = %w[oslo bergen].freeze
    ROLES = %w[web db edge].freeze
    TAGS = %w[old new spare].freeze
    START = Time.utc(2026, 11, 22, 6)
    WORDS = %w[amber birch cedar delta ember flint grove hazel islet jetty knoll larch maple north olive].freeze
    SERVICES = {
      "sshd" => [
        "Accepted publickey for %<word>s from 10.0.%<small>d.%<small>d port %<large>d ssh2",
        "Failed password for invalid user %<word>s from 203.0.113.%<small>d port %<large>d ssh2"
      ],
      "systemd" => [
        "Started %<word>s.service - The %<word>s service.", "%<word>s.service: Main process exited, code=exited, " \
                                                            "status=1/FAILURE", "Stopping %<word>s.service..."
      ],
      "kernel" => [
        "Linux version 6.1.0-%<small>d-amd64 (builder@example) #1 SMP",
        "Out of memory: Killed process %<large>d (%<word>s) total-vm:%<large>dkB",
        "eth0: link %<updown>s at %<small>d Mbit"
      ],
      "shop" => [
        "request_id=%<request>s took=%<small>dms path=/%<word>s status=%<status>d peer=%<other>s",
        "cache %<word>s has %<large>d entries", "lost connection to %<other>s after %<small>d s",
        "error: cannot reach %<other>s: timeout of %<small>d ms"
      ]
    }.freeze

    attr_reader :machines, :lines, :chance

    # @param folder [String] where its files are
    def initialize(number, folder)
      @folder = folder
      @chance = Random.new(number)
      @machines = Array.new(@chance.rand(3..5)) { |at| "#{WORDS[at]}-#{@chance.rand(1..9)}" }
      @said = @machines.to_h { |name| [name, [SITES, ROLES, TAGS].map { |all| all.sample(random: @chance) }] }
      @lines = Array.new(@chance.rand(60..160)) { line }.sort_by.with_index { |(at, _), index| [at, index] }
      @lines.map!(&:last)
    end

    # @return [Array<Array(String, Proc)>] a find text on where lines come from, and whether a line is of it
    def sights
      one, two = @machines.sample(2, random: @chance)
      site, role, tag = @said[one]
      service = SERVICES.keys.sample(random: @chance)
      file = @lines.sample(random: @chance).source
      [
        ["host.name = #{one}", ->(line) { line.machine == one }],
        ["host.name in (#{one}, #{two})", ->(line) { [one, two].include?(line.machine) }],
        ["host.site = #{site}", ->(line) { line.site == site }],
        ["host.role = #{role} and not host.tags = #{tag}", ->(line) { line.role == role && line.tags != tag }],
        ["service.name = #{service}", ->(line) { line.service == service }],
        ["source = \"#{file}\"", ->(line) { line.source == file }],
        [
          "host.name = #{two} or (service.name = #{service} and not source = \"#{file}\")",
          ->(line) { line.machine == two || (line.service == service && line.source != file) }
        ]
      ]
    end

    # @yieldparam line [Line] whether it is wanted
    # @return [Hash{String=>String}] texts by name of file
    def files(&wanted)
      @lines.select(&wanted).group_by(&:source).transform_values { |own| own.map { |line| "#{line.text}\n" }.join }
    end

    # @param names [Array<String>] of machines
    # @return [String] what is said of them, and of nobody else
    def roster(names = @machines)
      rows = names.map do |name|
        site, role, tag = @said[name]
        needs = @machines[@machines.index(name) - 1]
        [name, site, role, tag, names.include?(needs) ? needs : ""].join(",")
      end
      ["machine,site,role,tags,needs", *rows].join("\n")
    end

    private

    def line
      name = @machines.sample(random: @chance)
      service = SERVICES.keys.sample(random: @chance)
      at = START + @chance.rand(0...3600) + (@chance.rand(0...1000)/1000r)
      site, role, tag = @said[name]
      text = format(
        SERVICES[service].sample(random: @chance),
        word: WORDS.sample(random: @chance), small: @chance.rand(1..250), large: @chance.rand(1000..99_999),
        request: "r#{@chance.rand(1..40)}", status: [200, 404, 500].sample(random: @chance),
        other: @machines.sample(random: @chance), updown: %w[up down].sample(random: @chance)
      )
      level = @chance.rand(0..7)
      stamp = at.strftime("%Y-%m-%dT%H:%M:%S.%LZ")
      source = File.join(@folder, @chance.rand < 0.4 ? "relay.log" : "#{name}/#{service}.log")
      text = "<#{8 + level}>1 #{stamp} #{name} #{service} #{@chance.rand(1..999)} - - #{text}"
      [at, Line.new(machine: name, service: service, site: site, role: role, tags: tag, source: source, text: text)]
    end
  end
end
