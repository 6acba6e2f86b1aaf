# frozen_string_literal: true

source "https://rubygems.org"

# the house
gem "zeitwerk", "~> 2.6.18"
gem "thor", "~> 1.5"
gem "semantic_logger", "~> 4.18"

# core: plain values in, plain values out
gem "countries", "~> 7.1"
gem "dentaku", "~> 3.5"
gem "holidays", "~> 8.8"
gem "liquid", "~> 5.14"
gem "money", "~> 6.19"
gem "icalendar", "~> 2.13"
gem "rrule", "~> 0.8"
gem "tzinfo", "~> 2.0"
gem "tzinfo-data", "~> 1.2025"

# store
gem "json", "~> 2.9"
gem "mysql2", "~> 0.5.7"
gem "sequel", "~> 5.110"

# what leaves the house
gem "commonmarker", "~> 0.23.12"
gem "mail", "~> 2.9"
gem "email_reply_parser", "~> 0.5"
gem "loofah", "~> 2.25"
gem "vcardigan", "~> 0.0.9"
gem "midi-smtp-server", "~> 3.3"
gem "nokogiri", "~> 1.18.10"
# afm is of pdf-reader; later ones ask for a newer Ruby.
gem "afm", "~> 0.2.2", require: false
gem "pdf-reader", "~> 2.16", require: false
gem "prawn", "~> 2.5"
gem "prawn-table", "~> 0.2"
gem "rubyzip", "~> 2.4.1"

# web
gem "argon2", "~> 2.3"
gem "json_schemer", "~> 2.5"
gem "prometheus-client", "~> 4.2"
gem "puma", "~> 8.0"
gem "rack", "~> 3.2"
gem "rack-attack", "~> 6.8"
gem "rack-session", "~> 2.1"
gem "rackup", "~> 2.3"
gem "roda", "~> 3.80"
gem "rotp", "~> 6.3"
gem "rqrcode", "~> 3.1"
gem "cloud_events", "~> 0.9"
gem "erubi", "~> 1.13"
gem "rodauth", "~> 2.49"
gem "sinatra", "~> 4.2"

group :development, :test do
  gem "axe-core-capybara", "~> 4.14", require: false
  gem "axe-core-rspec", "~> 4.14", require: false
  gem "capybara", "~> 3.40"
  gem "parallel_tests", "~> 4.10"
  gem "prop_check", "~> 1.0"
  gem "rack-test", "~> 2.3"
  gem "rspec", "~> 3.13"
  gem "selenium-webdriver", "~> 4.32"
  gem "simplecov", "~> 0.22", require: false
  gem "standard", "~> 1.54", require: false
end
