# frozen_string_literal: true

require_relative "../test_helper"

# How the processes of a server end, and how one that was lost is replaced.
class EndingTest < Northdrift::StoreTest
  include Northdrift
  include Northdrift::Serving

  def setup
    super
    lines = Array.new(400) { |number| "#{(NOW - 500 + number).strftime('%b %e %T')} alder app[1]: retry #{number}\n" }
    import_text(lines.join)
    ActiveRecord::Base.connection_handler.clear_all_connections!
  end

  def teardown
    stop_serving
    super
  end

  def ask(path) = Net::HTTP.get_response("127.0.0.1", path, @port)

  # As a person does in a terminal, and as another program does, which tells the first process alone.
  %i[INT TERM].each do |signal|
    define_method("test_#{signal}_to_the_first_process_ends_all") do
      serve
      all = descendants(@server)
      assert_operator all.size, :>, 8
      Process.kill(signal, @server)
      Process.wait(@server)
      @server = nil
      eventually { all.none? { |pid| title(pid).to_s.start_with?("northdrift", "puma") } }
    end
  end

  def test_a_lost_crew_is_replaced
    serve
    before = counting
    Process.kill(:KILL, before.first)
    eventually do
      # The worker whose crew was lost is the one that is asked sooner or later.
      assert_equal "200", ask("/api/patterns").code
      now = counting
      now.size == before.size && !now.include?(before.first)
    rescue SystemCallError, EOFError
      nil
    end
    assert_includes ask("/api/patterns").body, "retry"
  end

  def test_what_hangs_is_ended_after_a_grace
    supervisor =
      fork do
        $stderr.reopen(File::NULL)
        Server::Supervisor.new({ "northdrift: hanging" => ->(_) { loop { sleep 1 } } }, grace: 0.5).run
        exit!(0)
      end
    eventually { descendants(supervisor).any? { |pid| title(pid) == "northdrift: hanging" } }
    all = descendants(supervisor)
    Process.kill(:TERM, supervisor)
    Process.wait(supervisor)
    assert(all.none? { |pid| title(pid) == "northdrift: hanging" })
  end
end
