# frozen_string_literal: true

source "https://rubygems.org"

gem "activerecord", "~> 7.2"
gem "base64", "~> 0.2"
gem "bcrypt", "~> 3.1"
gem "bootsnap", "~> 1.18", require: false # keeps what was compiled: the command line starts in half the time
gem "chronic", "~> 0.10"
gem "csv", "~> 3.3", require: false
gem "google-protobuf", "~> 4.30.2", require: false # newest with a library built for Debian's RubyGems
gem "liquid", "~> 5.5", require: false # templates of messages
gem "mail", "~> 2.9", require: false
gem "matrix", "~> 0.4", require: false # what prawn needs of Ruby's older library
gem "midi-smtp-server", "~> 3.3", require: false # the mail catcher of the demo
gem "nokogiri", "~> 1.17.2" # newest with a library built for Debian's RubyGems
gem "oj", "~> 3.16"
gem "openid_connect", "~> 2.3", require: false # logs people in by another provider
gem "opentelemetry-exporter-otlp-logs", require: false # brings the messages of the protocol
gem "prawn", "~> 2.4.0", require: false # writes reports as PDF; later ones want an older bigdecimal than others
gem "puma", "~> 8.0"
gem "rack", "~> 3.2"
gem "rack-attack", "~> 6.8"
gem "rack-session", "~> 2.1"
gem "rb-inotify", "~> 0.11"
gem "re2", "~> 2.14.0" # linear-time regular expressions; newest with a prebuilt library
gem "rotp", "~> 6.3", require: false # one-time codes of a second factor
gem "rqrcode", "~> 3.1", require: false
gem "rubyzip", "~> 2.4", require: "zip"
gem "sinatra", "~> 4.2"
gem "snmp", "~> 1.3", require: false # traps
gem "sqlite3", "~> 1.7.3" # brings its own SQLite with FTS5
gem "thor", "~> 1.3"
gem "tty-progressbar", "~> 0.18"
gem "tzinfo-data"
gem "warden", "~> 1.2"
gem "xlsxtream", "~> 3.1" # writes a workbook row by row, whatever its size
gem "zeitwerk", "~> 2.6"
gem "zxcvbn", "~> 1.0", require: false # knows which passwords are common

group :development, :test do
  gem "brakeman", require: false
  gem "bundler-audit", require: false
  gem "capybara", "~> 3.40"
  gem "json_schemer", "~> 2.3"
  gem "kramdown-parser-gfm", require: false
  gem "logfmt", require: false
  gem "minitest", "~> 5.27.0"
  gem "minitest-retry", "~> 0.2", require: false
  gem "parallel_tests", "~> 4.7", require: false
  gem "pdf-reader", require: false
  gem "rack-test", "~> 2.1"
  gem "roo", require: false
  gem "rubocop", "~> 1.60", require: false
  gem "rubocop-minitest", require: false
  gem "rubocop-performance", require: false
  gem "rubocop-thread_safety", require: false
  gem "selenium-webdriver", "~> 4.32.0"
  gem "simplecov", require: false
  gem "syslog-parser", require: false
  gem "syslog_protocol", require: false
end
