# frozen_string_literal: true

require "oj"
require "open3"
require "timeout"

module Northdrift
  module Server
    module Sending
      module Outlets
        # A program of this computer, out of the folder that the settings file names: it gets the message as JSON on its
        # standard input, and nothing else. It counts as sent when it ends with 0.
        class Program
          SECONDS = 30
          ENVIRONMENT = { "PATH" => "/usr/bin:/bin:/usr/sbin:/sbin", "LANG" => "C.UTF-8" }.freeze
          MOST_SAID = 200

          def self.gather_us = 0

          # @param name [String]
          # @return [String] where it is
          # @raise [Form::Unfit]
          def self.path(name)
            folder = Store::MachineSettings.current.programs
            if folder.empty?
              raise unfit("no folder for programs is set: name it as programs in #{Store::MachineSettings.path}")
            end

            path = File.join(folder, name)
            return path if Form::PROGRAM.match?(name) && File.file?(path) && File.executable?(path)

            raise unfit("there is no program “#{Text.display(name)}” in #{folder} that can be run")
          end

          def self.unfit(message) = Form::Unfit.new("program", message)
          private_class_method :unfit

          # @param given [Hash{String=>Object}]
          def initialize(given)
            @name = given["program"]
          end

          # @param message [Sending::Message]
          # @raise [StandardError] when it has to be tried again
          def send_off(message, _template, _recipient)
            said, status = run(self.class.path(@name), Oj.dump(message.to_h, mode: :strict))
            return if status.success?

            ended = status.exitstatus || "a signal"
            raise Error, "#{@name} ended with #{ended}: #{Text.line(said.to_s.strip)[0, MOST_SAID]}"
          end

          private

          def run(path, input)
            options = { unsetenv_others: true, pgroup: true, chdir: "/" }
            Open3.popen2e(ENVIRONMENT, [path, path], **options) do |stdin, output, child|
              said = Thread.new { output.read }
              give(stdin, input)
              unless child.join(SECONDS)
                Process.kill(:KILL, -child.pid)
                child.join
                raise Error, "#{@name} did not end within #{SECONDS} seconds"
              end
              [said.join(1) && said.value, child.value]
            end
          end

          # It need not read what it is given.
          def give(stdin, input)
            stdin.write(input)
            stdin.close
          rescue Errno::EPIPE
            nil
          end
        end
      end
    end
  end
end
