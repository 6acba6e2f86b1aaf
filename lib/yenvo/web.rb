# frozen_string_literal: true

require "json"
require "puma"
require "sinatra/base"
require "rack/protection"
require "rack/session"
require "yenvo/engine"

module Yenvo
  # What browsers and programs talk to: one small class per resource, described in web/openapi.yaml.
  module Web
  end
end
