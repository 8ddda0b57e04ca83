# frozen_string_literal: true

module Northdrift
  module Reading
    # Programs name the same thing in many ways. Here stand the names that we give it: those of the OpenTelemetry
    # semantic conventions where one exists. A name that is not listed stays as the program wrote it.
    module FieldNames
      ROLES =
        {
          time: %w[
            time timestamp ts @timestamp datetime date instant timemillis eventtime event_time logged_at asctime t
            timecreated timegenerated @t zeit zeitstempel datum fecha heure horodatage tid tidspunkt
            时间 日期 日期时间 時間 日時 время дата
          ],
          level: %w[
            level severity lvl loglevel log_level log.level levelname severity_text severitytext priority
            leveldisplayname entrytype level_name severity_name severity_label error_severity pri @l
            stufe schweregrad ebene nivel niveau nivå 级别 等级 レベル уровень
          ], message: %w[
               message msg text event body log @m @mt meldung nachricht mensaje melding 消息 信息 内容 メッセージ сообщение
             ],
          letter: %w[s],
          logger: %w[logger logger_name loggername logger.name log.logger category],
          service: %w[service service.name service_name app application program unit providername],
          machine: %w[host hostname host.name machine computer devname node machinename rechner 主机 ホスト хост]
        }.flat_map { |role, names| names.map { |name| [name.b, role] } }.to_h.freeze

      COMMON = {
        "pid" => "process.pid", "process_id" => "process.pid", "tid" => "thread.id", "thread" => "thread.name",
        "thread_name" => "thread.name", "threadname" => "thread.name", "process.thread.name" => "thread.name",
        "thread_id" => "thread.id", "threadid" => "thread.id",
        "request_id" => "request.id", "requestid" => "request.id", "req_id" => "request.id",
        "x_request_id" => "request.id", "trace_id" => "trace.id", "traceid" => "trace.id", "trace" => "trace.id",
        "span_id" => "span.id", "spanid" => "span.id", "session_id" => "session.id", "sessionid" => "session.id",
        "user" => "user.name", "username" => "user.name", "user_name" => "user.name", "src" => "source.address",
        "status_code" => "http.response.status_code",
        **%w[src src_ip srcip client_ip clientip remote_addr remote_ip].to_h { |name| [name, "source.address"] },
        **%w[dst dst_ip dstip dest_ip].to_h { |name| [name, "destination.address"] },
        **%w[src_port srcport spt].to_h { |name| [name, "source.port"] },
        **%w[dst_port dstport dest_port dpt].to_h { |name| [name, "destination.port"] },
        # What every line has goes by these names: what a record itself calls so is asked for by another.
        **%w[severity message text source reader pattern parser].to_h { |name| [name, "record.#{name}"] }
      }.freeze

      NAMES_KEPT = 20_000

      @names = {}
      @roles = {}

      module_function

      # @param name [String] as the record has it
      # @return [String] UTF-8, interned
      def common(name)
        @names[name] || begin
          @names.clear if @names.size > NAMES_KEPT
          text = Text.display(name)
          @names[name.dup.freeze] = -(COMMON[text.downcase] || text)
        end
      end

      # @param name [String]
      # @return [Symbol, nil] what the field tells about the record itself
      def role(name)
        @roles.fetch(name) do
          @roles.clear if @roles.size > NAMES_KEPT
          @roles[name.dup.freeze] = ROLES[Text.utf8(name).downcase.b]
        end
      end
    end
  end
end
