# frozen_string_literal: true

require "mail"
require "net/smtp"
require "oj"
require "socket"

module Northdrift
  module Server
    module Sending
      module Outlets
        # Mail (RFC 5321 and 5322), by the server that the settings file names: as text, as a page, and as JSON for
        # programs. It counts as sent when that server has accepted it.
        class Mail
          SECONDS = 30
          # So long is waited for others, so that what comes of one trouble is told at once.
          GATHER_US = 10_000_000
          TLS = {
            "always" => { starttls: :always }, "if offered" => { starttls: :auto }, "from the start" => { tls: true },
            "never" => { starttls: false }
          }.freeze

          # @return [Integer] see {GATHER_US}
          def self.gather_us = GATHER_US

          # @param _given [Hash{String=>Object}]
          # @param settings [Store::MachineSettings]
          def initialize(_given, settings: Store::MachineSettings.current)
            @settings = settings
            return unless host.empty?

            raise Error, "no mail server is set: name it as mail_server in #{Store::MachineSettings.path}"
          end

          # @param message [Sending::Message]
          # @param template [Sending::Template]
          # @param recipient [String] address
          # @raise [StandardError] when it has to be tried again
          def send_off(message, template, recipient)
            raise Error, "“#{Text.display(recipient)}” has no mail address" unless recipient.include?("@")

            letter = letter(message.to_h, template, recipient)
            smtp.start(helo: Socket.gethostname, **login) do |server|
              server.send_message(letter.to_s, from, recipient)
            end
          end

          # @return [Mail::Message]
          def letter(values, template, recipient)
            sender = from
            ::Mail.new do
              from sender
              to recipient
              subject template.subject(values)
              message_id "<#{values['id']}@#{sender[/@(.+)/, 1]}>"
              # RFC 3834: nobody's holiday answers it.
              header["Auto-Submitted"] = "auto-generated"
              self.charset = "UTF-8"
              text_part do
                content_type "text/plain; charset=UTF-8"
                body template.text(values)
              end
              html_part do
                content_type "text/html; charset=UTF-8"
                body template.html(values)
              end
              add_file(filename: "alerts.json", mime_type: "application/json", content: Oj.dump(values, mode: :strict))
            end
          end

          private

          def host = @settings.mail_server.sub(/:\d+\z/, "")

          def from
            @settings.mail_from.empty? ? "northdrift@#{Socket.gethostname}" : @settings.mail_from
          end

          def smtp
            port = @settings.mail_server[/:(\d+)\z/, 1]&.to_i || 25
            tls = TLS.fetch(@settings.mail_tls) do |given|
              raise Error, "mail_tls is one of #{TLS.keys.join(', ')}, and not “#{Text.display(given)}”"
            end
            Net::SMTP.new(host, port, **tls).tap { |smtp| smtp.open_timeout = smtp.read_timeout = SECONDS }
          end

          def login
            return {} if @settings.mail_user.empty?

            { user: @settings.mail_user, secret: @settings.mail_password, authtype: :plain }
          end
        end
      end
    end
  end
end
